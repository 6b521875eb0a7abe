#include "app/charts/texture_sheet.h"

#include "app/look/theme.h"
#include "bake/kind.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

constexpr double kReadoutHeight = 22.0;
constexpr double kMostZoom = 64.0;

} // namespace

TextureSheet::TextureSheet(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("sheet");
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(80);
    setAccessibleName(tr("Texture sheet"));
    connect(&session_, &Session::bakeFinished, this, &TextureSheet::outdate);
    connect(&session_.playhead(), &Playhead::moved, this, qOverload<>(&QWidget::update));
    connect(&session_, &Session::picked, this, qOverload<>(&QWidget::update));
    outdate();
}

void TextureSheet::outdate() {
    outdated_ = true;
    if (shown_ != session_.bake()) {
        shown_ = session_.bake();
        countColumns();
    }
    update();
}

void TextureSheet::choose(const SheetChoice& choice) {
    if (!(choice == choice_)) {
        choice_ = choice;
        outdate();
    }
}

void TextureSheet::countColumns() {
    firstVertex_.clear();
    sharing_.clear();
    if (!shown_) {
        return;
    }
    const bake::TextureSet& set = shown_->baked.textures;
    // Influences in UV sets have columns of their own, which no texture holds.
    const std::size_t columns = set.joints.inUvs ? set.influences.size() : set.layout.columns;
    firstVertex_.assign(columns, 0xFFFFFFFFu);
    sharing_.assign(columns, 0);
    for (std::size_t v = 0; v < shown_->baked.columnOfVertex.size(); ++v) {
        const std::uint32_t column = shown_->baked.columnOfVertex[v];
        firstVertex_[column] = std::min(firstVertex_[column], static_cast<std::uint32_t>(v));
        ++sharing_[column];
    }
}

void TextureSheet::rebuild() {
    if (!outdated_) {
        return;
    }
    outdated_ = false;
    if (!shown_ || !shown_->baked.textures.find(*choice_.quantity, choice_.plane)) {
        job_.cancel();
        picture_ = {};
        return;
    }
    job_.start<TexturePicture>(
        [state = shown_, choice = choice_, ground = theme().deep](base::Progress&) {
            return pictureOf(state->baked.textures, choice, ground);
        },
        [this](TexturePicture picture) {
            picture_ = std::move(picture);
            update();
            Q_EMIT pictureMade();
        },
        [](const base::Problem&) {});
}

QRectF TextureSheet::area() const {
    return {8, 4, width() - 16.0, height() - 8 - kReadoutHeight};
}

QRectF TextureSheet::sheetBox() const {
    // Stretched to the strip: a texel is then no square, but the whole motion is seen.
    const QRectF all = area();
    return {all.left() + pan_.x(), all.top() + pan_.y(), all.width() * zoom_, all.height() * zoom_};
}

std::optional<TextureSheet::Spot> TextureSheet::spotAt(const QPointF& at) const {
    const QRectF box = sheetBox();
    const bake::TextureFormat* texture =
        shown_ ? shown_->baked.textures.find(*choice_.quantity, choice_.plane) : nullptr;
    if (!texture || !box.contains(at) || !area().contains(at)) {
        return std::nullopt;
    }
    const auto x =
        static_cast<std::size_t>((at.x() - box.left()) / box.width() * static_cast<double>(texture->width));
    const auto y =
        static_cast<std::size_t>((at.y() - box.top()) / box.height() * static_cast<double>(texture->height));
    const bake::Layout& layout = shown_->baked.textures.layout;
    Spot spot;
    if (*texture->quantity == bake::kJoint) {
        const bake::Layout& joints = shown_->baked.textures.joints.layout;
        spot.row = y / joints.rowsPerBlock;
        spot.column = (y % joints.rowsPerBlock) * joints.width + std::min(x, joints.width - 1);
        return spot.column < joints.columns && spot.row < joints.blocks ? std::optional(spot) : std::nullopt;
    }
    if (!texture->inBlocks) {
        spot.row = std::min(y, texture->height - 1);
        spot.column = std::min(x, texture->width - 1) * 4;
        return spot;
    }
    spot.row = y / layout.rowsPerBlock;
    spot.column = (y % layout.rowsPerBlock) * layout.width + std::min(x, layout.width - 1);
    if (spot.column >= layout.columns || spot.row >= layout.blocks) {
        return std::nullopt;
    }
    spot.vertex = firstVertex_[spot.column];
    spot.sharing = sharing_[spot.column];
    return spot;
}

QPointF TextureSheet::placeOf(std::size_t row, std::uint32_t vertex) const {
    if (!shown_ || vertex >= shown_->baked.columnOfVertex.size()) {
        return {};
    }
    const bake::Layout& layout = shown_->baked.textures.layout;
    const std::size_t column = shown_->baked.columnOfVertex[vertex];
    const QRectF box = sheetBox();
    return {box.left() + (static_cast<double>(layout.x(column)) + 0.5) / static_cast<double>(layout.width) *
                             box.width(),
            box.top() + (static_cast<double>(layout.y(row, column)) + 0.5) /
                            static_cast<double>(layout.height()) * box.height()};
}

void TextureSheet::paintMarks(QPainter& painter, const QRectF& box) const {
    const bake::TextureSet& set = shown_->baked.textures;
    const bake::TextureFormat& texture = *set.find(*choice_.quantity, choice_.plane);
    const bool ofShapes = !rowsAreFrames();
    const std::size_t rows = texture.inBlocks                    ? set.layout.rowsPerBlock
                             : *texture.quantity == bake::kJoint ? set.joints.layout.rowsPerBlock
                                                                 : 1;
    const double rowHeight = box.height() / static_cast<double>(texture.height);
    // Where one clip ends and the next begins.
    painter.setPen(QPen(theme().deep, 2));
    for (const bake::BakedClip& clip : set.clips) {
        if (clip.firstFrame > 0 && !ofShapes) {
            const double y = box.top() + static_cast<double>(clip.firstFrame * rows) * rowHeight;
            painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y));
        }
    }
    const auto index = static_cast<std::size_t>(session_.playhead().clipIndex());
    std::size_t playing = 0;
    if (!ofShapes && index < set.clips.size()) {
        const bake::FramePair pair =
            bake::framePair(set.clips[index], static_cast<float>(session_.playhead().frame()));
        playing = pair.first;
        // Both rows that are blended; the one that comes is drawn fainter.
        for (const std::size_t frame : {pair.second, pair.first}) {
            const QRectF row(box.left(), box.top() + static_cast<double>(frame * rows) * rowHeight,
                             box.width(), std::max(rowHeight * static_cast<double>(rows), 1.0));
            QColor line = theme().text;
            line.setAlphaF(frame == pair.first ? 1.0f : 0.45f);
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(theme().deep, 3.4));
            painter.drawRect(row);
            painter.setPen(QPen(line, 1.6));
            painter.drawRect(row);
        }
    }
    const int picked = session_.pickedVertex();
    if (picked >= 0 && texture.inBlocks) {
        const QPointF at = placeOf(playing, static_cast<std::uint32_t>(picked));
        QColor faint = theme().coral;
        faint.setAlphaF(0.55f);
        painter.setPen(QPen(faint, 1.2));
        painter.drawLine(QPointF(at.x(), box.top()), QPointF(at.x(), box.bottom()));
        painter.setPen(QPen(theme().coral, 2.0));
        painter.drawEllipse(at, 5.0, 5.0);
    }
}

void TextureSheet::paintEvent(QPaintEvent*) {
    rebuild();
    QPainter painter(this);
    painter.setFont(textFont(11.5));
    const bake::TextureFormat* texture =
        shown_ ? shown_->baked.textures.find(*choice_.quantity, choice_.plane) : nullptr;
    if (!texture || picture_.image.isNull()) {
        painter.setPen(theme().quiet);
        painter.drawText(rect(), Qt::AlignCenter,
                         session_.bakeJob().running() || job_.running()
                             ? tr("baking…")
                             : tr("The texture is shown here once there is a bake."));
        return;
    }
    const QRectF box = sheetBox();
    painter.save();
    painter.setClipRect(area());
    painter.setRenderHint(QPainter::SmoothPixmapTransform, zoom_ < 2.0);
    painter.drawImage(box, picture_.image);
    painter.setRenderHint(QPainter::Antialiasing);
    paintMarks(painter, box);
    painter.restore();
    const QRectF words(10, height() - kReadoutHeight, width() - 20, kReadoutHeight);
    const auto spot = hover_ ? spotAt(*hover_) : std::nullopt;
    QString line;
    if (spot) {
        painter.setPen(theme().text);
        line = readout(*spot);
    } else if (!picture_.warning.isEmpty()) {
        painter.setPen(theme().brass);
        line = "⚠ " + picture_.warning;
    } else {
        painter.setPen(theme().quiet);
        const bake::TextureSet& set = shown_->baked.textures;
        const auto rows = static_cast<int>(set.layout.rowsPerBlock);
        line = *texture->quantity == bake::kJoint
                   ? tr("%1 × %2 texels. Across: joints, %3 texels each. Down: frames.")
               : *texture->quantity == bake::kInfluence
                   ? tr("%1 × %2 texels. Across: vertices. Down: joints and weights, two by two.")
               : !texture->inBlocks ? tr("%1 × %2 texels. Across: four weights per texel. Down: frames.")
               : !set.kind->blocksAreFrames()
                   ? tr("%1 × %2 texels. Across: vertices. Down: shapes of %n row(s).", nullptr, rows)
               : set.kind->hasPivots
                   ? tr("%1 × %2 texels. Across: pieces. Down: frames of %n row(s).", nullptr, rows)
                   : tr("%1 × %2 texels. Across: vertices. Down: frames of %n row(s).", nullptr, rows);
        line = line.arg(texture->width).arg(texture->height);
        line = *texture->quantity == bake::kJoint ? line.arg(set.joints.texels()) : line;
    }
    painter.drawText(words, Qt::AlignLeft | Qt::AlignVCenter,
                     QFontMetricsF(painter.font()).elidedText(line, Qt::ElideRight, words.width()));
}

void TextureSheet::mousePressEvent(QMouseEvent* event) {
    last_ = event->position();
    dragging_ = true;
    moved_ = false;
}

void TextureSheet::panBy(const QPointF& way) {
    pan_ += way;
    pan_.setX(std::clamp(pan_.x(), area().width() * (1.0 - zoom_), 0.0));
    pan_.setY(std::clamp(pan_.y(), area().height() * (1.0 - zoom_), 0.0));
    update();
}

void TextureSheet::mouseMoveEvent(QMouseEvent* event) {
    hover_ = event->position();
    if (dragging_) {
        const QPointF way = event->position() - last_;
        moved_ = moved_ || std::abs(way.x()) + std::abs(way.y()) > 2.0;
        if (zoom_ > 1.0 && moved_) {
            panBy(way);
        }
        last_ = event->position();
    }
    update();
}

void TextureSheet::mouseReleaseEvent(QMouseEvent* event) {
    dragging_ = false;
    const auto spot = spotAt(event->position());
    if (moved_ || !spot) {
        return;
    }
    const bake::TextureSet& set = shown_->baked.textures;
    const bool ofShapes = !rowsAreFrames();
    Playhead& playhead = session_.playhead();
    for (std::size_t c = 0; c < set.clips.size() && !ofShapes; ++c) {
        const bake::BakedClip& clip = set.clips[c];
        if (spot->row >= clip.firstFrame && spot->row < clip.firstFrame + clip.frames) {
            const std::size_t in = spot->row - clip.firstFrame;
            playhead.setPlaying(false);
            playhead.setClipIndex(static_cast<int>(c));
            playhead.setFrame(static_cast<double>(clip.times.empty() ? in : clip.times[in]));
        }
    }
    if (set.find(*choice_.quantity, choice_.plane)->inBlocks) {
        session_.pickVertex(static_cast<int>(spot->vertex));
    }
}

void TextureSheet::mouseDoubleClickEvent(QMouseEvent*) {
    zoom_ = 1.0;
    pan_ = {};
    update();
}

void TextureSheet::zoomBy(double factor, const QPointF& at) {
    const double before = zoom_;
    zoom_ = std::clamp(zoom_ * factor, 1.0, kMostZoom);
    // What is under the pointer stays under it.
    const QPointF from = at - area().topLeft();
    pan_ = from - (from - pan_) * (zoom_ / before);
    panBy({});
}

void TextureSheet::wheelEvent(QWheelEvent* event) {
    zoomBy(std::pow(1.0015, event->angleDelta().y()), event->position());
    event->accept();
}

void TextureSheet::keyPressEvent(QKeyEvent* event) {
    const double way = 40.0;
    switch (event->key()) {
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        return zoomBy(1.25, area().center());
    case Qt::Key_Minus:
        return zoomBy(0.8, area().center());
    case Qt::Key_Up:
        return panBy({0, way});
    case Qt::Key_Down:
        return panBy({0, -way});
    default:
        QWidget::keyPressEvent(event); // left and right step the playhead, as everywhere
    }
}

void TextureSheet::leaveEvent(QEvent*) {
    hover_.reset();
    update();
}

} // namespace ripple::app
