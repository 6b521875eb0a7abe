#include "app/charts/texture_sheet.h"

#include "app/shell/theme.h"
#include "base/parallel.h"
#include "base/units.h"

#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

constexpr double kReadoutHeight = 22.0;

} // namespace

TextureSheet::TextureSheet(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("sheet");
    setMouseTracking(true);
    setMinimumHeight(80);
    setAccessibleName(tr("Texture sheet"));
    connect(&session_, &Session::bakeFinished, this, &TextureSheet::outdate);
    connect(&session_.playhead(), &Playhead::moved, this, qOverload<>(&QWidget::update));
    connect(&session_, &Session::picked, this, qOverload<>(&QWidget::update));
}

void TextureSheet::outdate() {
    outdated_ = true;
    update();
}

void TextureSheet::showNormals(bool normals) {
    normals_ = normals;
    outdate();
}

void TextureSheet::rebuild() const {
    if (!outdated_) {
        return;
    }
    outdated_ = false;
    picture_ = {};
    firstVertex_.clear();
    sharing_.clear();
    warning_.clear();
    const auto bake = session_.bake();
    if (!bake) {
        return;
    }
    const bake::TextureSet& set = bake->baked.textures;
    const bake::Layout& layout = set.layout;
    firstVertex_.assign(layout.columns, 0xFFFFFFFFu);
    sharing_.assign(layout.columns, 0);
    for (std::size_t v = 0; v < bake->baked.columnOfVertex.size(); ++v) {
        const std::uint32_t column = bake->baked.columnOfVertex[v];
        firstVertex_[column] = std::min(firstVertex_[column], static_cast<std::uint32_t>(v));
        ++sharing_[column];
    }
    picture_ =
        QImage(static_cast<int>(layout.width), static_cast<int>(layout.height()), QImage::Format_RGB888);
    picture_.fill(theme().deep);
    const bool normals = normals_ && set.normalStore.stored();
    const glm::vec3 size = glm::max(set.range.max - set.range.min, glm::vec3(1e-12f));
    uchar* texels = picture_.bits();
    const auto stride = static_cast<std::size_t>(picture_.bytesPerLine());
    base::parallelFor(layout.frames, 8, [&](std::size_t begin, std::size_t end) {
        std::vector<glm::vec3> values(layout.columns);
        for (std::size_t f = begin; f < end; ++f) {
            if (normals) {
                set.normalStore.decode(set.normals.texel(0, f * layout.rowsPerFrame), values);
            } else {
                set.positionStore.decode(set.positions.texel(0, f * layout.rowsPerFrame), set.range, values);
            }
            for (std::size_t c = 0; c < layout.columns; ++c) {
                // Spread over the range, so that motion shows whatever the store.
                const glm::vec3 shade =
                    normals ? 0.5f + 0.5f * values[c] : (values[c] - set.range.min) / size;
                uchar* texel = texels + layout.y(f, c) * stride + 3 * layout.x(c);
                for (int a = 0; a < 3; ++a) {
                    texel[a] = static_cast<uchar>(std::clamp(shade[a], 0.0f, 1.0f) * 255.0f + 0.5f);
                }
            }
        }
    });
    if (set.range.min == set.range.max) {
        warning_ = set.content == bake::Content::offset ? tr("Nothing moves: every offset is the same.")
                                                        : tr("Every vertex is at the same place.");
    }
}

QRectF TextureSheet::sheetBox() const {
    // Stretched to the strip: a texel is then no square, but the whole motion is seen.
    const QRectF area(8, 4, width() - 16, height() - 8 - kReadoutHeight);
    return {area.left() + pan_.x(), area.top() + pan_.y(), area.width() * zoom_, area.height() * zoom_};
}

std::optional<TextureSheet::Spot> TextureSheet::spotAt(const QPointF& at) const {
    rebuild();
    const auto bake = session_.bake();
    const QRectF box = sheetBox();
    if (!bake || picture_.isNull() || !box.contains(at) || at.y() > height() - kReadoutHeight) {
        return std::nullopt;
    }
    const bake::Layout& layout = bake->baked.textures.layout;
    const auto x =
        static_cast<std::size_t>((at.x() - box.left()) / box.width() * static_cast<double>(layout.width));
    const auto y =
        static_cast<std::size_t>((at.y() - box.top()) / box.height() * static_cast<double>(layout.height()));
    Spot spot;
    spot.frame = std::min(y / layout.rowsPerFrame, layout.frames - 1);
    spot.column = (y % layout.rowsPerFrame) * layout.width + std::min(x, layout.width - 1);
    if (spot.column >= layout.columns) {
        return std::nullopt;
    }
    spot.vertex = firstVertex_[spot.column];
    spot.sharing = sharing_[spot.column];
    const bake::TextureReader reader(bake->baked.textures, bake->baked.columnOfVertex, {}, {});
    spot.value = reader.value(spot.frame, spot.column);
    return spot;
}

QString TextureSheet::readout(const Spot& spot) const {
    const auto bake = session_.bake();
    const auto length = [](float v) {
        return QString::fromStdString(base::lengthText(static_cast<double>(v)));
    };
    std::size_t inClip = spot.frame;
    QString clipName;
    for (const bake::BakedClip& clip : bake->baked.textures.clips) {
        if (spot.frame >= clip.firstFrame && spot.frame < clip.firstFrame + clip.frames) {
            inClip = spot.frame - clip.firstFrame;
            clipName = QString::fromStdString(clip.name);
        }
    }
    QString text = tr("%1, frame %2 · vertex %3").arg(clipName).arg(inClip).arg(spot.vertex);
    if (spot.sharing > 1) {
        text += tr(" and %1 alike").arg(spot.sharing - 1);
    }
    const char* what = bake->baked.textures.content == bake::Content::offset ? "offset" : "position";
    return text + QString(" · %1 %2, %3, %4")
                      .arg(what, length(spot.value.x), length(spot.value.y), length(spot.value.z));
}

void TextureSheet::paintEvent(QPaintEvent*) {
    rebuild();
    QPainter painter(this);
    painter.setFont(textFont(11.5));
    const auto bake = session_.bake();
    if (picture_.isNull() || !bake) {
        painter.setPen(theme().quiet);
        painter.drawText(rect(), Qt::AlignCenter,
                         session_.bakeJob().running() ? tr("baking…")
                                                      : tr("The texture shows here once there is a bake."));
        return;
    }
    const QRectF box = sheetBox();
    const bake::Layout& layout = bake->baked.textures.layout;
    painter.save();
    painter.setClipRect(QRectF(8, 4, width() - 16, height() - 8 - kReadoutHeight));
    painter.setRenderHint(QPainter::SmoothPixmapTransform, zoom_ < 2.0);
    painter.drawImage(box, picture_);
    // Where one clip ends and the next begins.
    const double rowHeight = box.height() / static_cast<double>(layout.height());
    painter.setPen(QPen(theme().deep, 2));
    for (const bake::BakedClip& clip : bake->baked.textures.clips) {
        if (clip.firstFrame > 0) {
            const double y =
                box.top() + static_cast<double>(clip.firstFrame * layout.rowsPerFrame) * rowHeight;
            painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y));
        }
    }
    if (const bake::BakedClip* clip = session_.playhead().clip()) {
        const auto frame = clip->firstFrame + static_cast<std::size_t>(session_.playhead().frame());
        const double top = box.top() + static_cast<double>(frame * layout.rowsPerFrame) * rowHeight;
        const QRectF row(box.left(), top, box.width(),
                         std::max(rowHeight * static_cast<double>(layout.rowsPerFrame), 1.0));
        painter.setPen(QPen(theme().deep, 3.4));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(row);
        painter.setPen(QPen(theme().text, 1.6));
        painter.drawRect(row);
    }
    const int picked = session_.pickedVertex();
    if (picked >= 0 && static_cast<std::size_t>(picked) < bake->baked.columnOfVertex.size()) {
        const std::size_t column = bake->baked.columnOfVertex[static_cast<std::size_t>(picked)];
        const double x = box.left() + (static_cast<double>(layout.x(column)) + 0.5) /
                                          static_cast<double>(layout.width) * box.width();
        painter.setPen(QPen(theme().coral, 1.6));
        painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()));
    }
    painter.restore();
    const QRectF words(10, height() - kReadoutHeight, width() - 20, kReadoutHeight);
    if (!warning_.isEmpty()) {
        painter.setPen(theme().brass);
        painter.drawText(words, Qt::AlignLeft | Qt::AlignVCenter, warning_);
        return;
    }
    painter.setPen(hover_ ? theme().text : theme().quiet);
    const auto spot = hover_ ? spotAt(*hover_) : std::nullopt;
    const QString plain = tr("%1 × %2 texels, %3 to a frame; across: vertices, down: frames")
                              .arg(layout.width)
                              .arg(layout.height())
                              .arg(QString::fromStdString(base::plural(layout.rowsPerFrame, "row")));
    painter.drawText(words, Qt::AlignLeft | Qt::AlignVCenter, spot ? readout(*spot) : plain);
}

void TextureSheet::mousePressEvent(QMouseEvent* event) {
    last_ = event->position();
    dragging_ = true;
    moved_ = false;
}

void TextureSheet::mouseMoveEvent(QMouseEvent* event) {
    hover_ = event->position();
    if (dragging_) {
        const QPointF way = event->position() - last_;
        moved_ = moved_ || std::abs(way.x()) + std::abs(way.y()) > 2.0;
        if (zoom_ > 1.0 && moved_) {
            pan_ += way;
            const QRectF area(0, 0, width() - 16, height() - 8 - kReadoutHeight);
            pan_.setX(std::clamp(pan_.x(), area.width() * (1.0 - zoom_), 0.0));
            pan_.setY(std::clamp(pan_.y(), area.height() * (1.0 - zoom_), 0.0));
        }
        last_ = event->position();
    }
    update();
}

void TextureSheet::mouseReleaseEvent(QMouseEvent* event) {
    dragging_ = false;
    const auto spot = spotAt(event->position());
    const auto bake = session_.bake();
    if (moved_ || !spot || !bake) {
        return;
    }
    Playhead& playhead = session_.playhead();
    const auto& clips = bake->baked.textures.clips;
    for (std::size_t c = 0; c < clips.size(); ++c) {
        if (spot->frame >= clips[c].firstFrame && spot->frame < clips[c].firstFrame + clips[c].frames) {
            playhead.setPlaying(false);
            playhead.setClipIndex(static_cast<int>(c));
            playhead.setFrame(static_cast<double>(spot->frame - clips[c].firstFrame));
        }
    }
    session_.pickVertex(static_cast<int>(spot->vertex));
}

void TextureSheet::mouseDoubleClickEvent(QMouseEvent*) {
    zoom_ = 1.0;
    pan_ = {};
    update();
}

void TextureSheet::wheelEvent(QWheelEvent* event) {
    const double before = zoom_;
    zoom_ = std::clamp(zoom_ * std::pow(1.0015, event->angleDelta().y()), 1.0, 64.0);
    // What is under the pointer stays under it.
    const QPointF at = event->position() - QPointF(8, 4);
    pan_ = at - (at - pan_) * (zoom_ / before);
    const QRectF area(0, 0, width() - 16, height() - 8 - kReadoutHeight);
    pan_.setX(std::clamp(pan_.x(), area.width() * (1.0 - zoom_), 0.0));
    pan_.setY(std::clamp(pan_.y(), area.height() * (1.0 - zoom_), 0.0));
    event->accept();
    update();
}

void TextureSheet::leaveEvent(QEvent*) {
    hover_.reset();
    update();
}

} // namespace ripple::app
