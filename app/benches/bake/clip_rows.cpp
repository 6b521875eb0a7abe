#include "app/benches/bake/clip_rows.h"

#include "app/look/theme.h"
#include "app/session/words.h"
#include "base/units.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

constexpr double kGripWide = 14.0;
constexpr double kTickWide = 20.0;
constexpr double kNameWide = 92.0;
constexpr double kFactsWide = 100.0;

} // namespace

ClipRows::ClipRows(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      name_(new QLineEdit(this)) {
    setObjectName("clipRows");
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("Clips"));
    name_->setObjectName("clipName");
    name_->hide();
    connect(name_, &QLineEdit::editingFinished, this, &ClipRows::finishRename);
}

QSize ClipRows::sizeHint() const {
    return {280, static_cast<int>(kRowHigh * static_cast<double>(rows_.size()))};
}

ClipRows::Row ClipRows::rowOf(std::size_t clip, const bake::ClipChoice* choice) const {
    const source::Clip& from = session_.source()->clips()[clip];
    Row row;
    row.name = from.name;
    row.shown = text(choice ? choice->nameShipped() : from.name);
    row.baked = choice != nullptr;
    row.facts = text(base::secondsText(from.duration));
    row.frames = session_.framesOf(clip).value_or(0);
    row.window = {0, row.frames ? row.frames - 1 : 0};
    if (choice && choice->window) {
        row.window = {choice->window->first, std::min(choice->window->last, row.window.last)};
    }
    if (const auto bake = session_.bake(); bake && choice) {
        for (const bake::BakedClip& baked : bake->baked.textures.clips) {
            if (baked.sourceName == from.name) {
                const auto frames = static_cast<int>(baked.length());
                row.facts = baked.closed ? tr("%n frame(s), closed", nullptr, frames)
                                         : tr("%n frame(s), open", nullptr, frames);
            }
        }
    }
    return row;
}

/// The baked ones as they are stored, then the others as the source has them.
std::vector<ClipRows::Row> ClipRows::rowsNow() const {
    std::vector<Row> rows;
    const auto source = session_.source();
    if (!source || source->clips().size() < 2) {
        return rows;
    }
    const std::vector<bake::ClipChoice> all = bake::writtenOut(*source, session_.document().recipe);
    std::vector<bool> taken(source->clips().size(), false);
    for (const bake::ClipChoice& choice : all) {
        for (std::size_t c = 0; c < taken.size(); ++c) {
            if (source->clips()[c].name == choice.name) {
                rows.push_back(rowOf(c, &choice));
                taken[c] = true;
            }
        }
    }
    for (std::size_t c = 0; c < taken.size(); ++c) {
        if (!taken[c]) {
            rows.push_back(rowOf(c, nullptr));
        }
    }
    return rows;
}

void ClipRows::refresh() {
    std::vector<Row> now = rowsNow();
    if (now != rows_) {
        const bool other = now.size() != rows_.size();
        rows_ = std::move(now);
        current_ = std::min(current_, rows_.empty() ? 0 : rows_.size() - 1);
        if (other) {
            updateGeometry();
        }
    }
    if (const bake::BakedClip* clip = session_.playhead().clip()) {
        for (std::size_t r = 0; r < rows_.size(); ++r) {
            current_ = rows_[r].name == clip->sourceName && !hasFocus() ? r : current_;
        }
    }
    setVisible(!rows_.empty());
    setAccessibleDescription(rows_.empty() ? QString() : words(current_));
    update();
}

QString ClipRows::words(std::size_t row) const {
    const Row& own = rows_[row];
    return own.baked ? tr("%1, %2").arg(own.shown, own.facts) : tr("%1, not baked").arg(own.shown);
}

QRectF ClipRows::rowBox(std::size_t row) const {
    return {0.0, kRowHigh * static_cast<double>(row), static_cast<double>(width()), kRowHigh};
}

QRectF ClipRows::grip(std::size_t row) const {
    return {0.0, rowBox(row).top(), kGripWide, kRowHigh};
}

QRectF ClipRows::tickBox(std::size_t row) const {
    return {kGripWide, rowBox(row).top(), kTickWide, kRowHigh};
}

QRectF ClipRows::nameBox(std::size_t row) const {
    return {kGripWide + kTickWide, rowBox(row).top(), kNameWide, kRowHigh};
}

QRectF ClipRows::bar(std::size_t row) const {
    const double left = kGripWide + kTickWide + kNameWide + 6.0;
    return {left, rowBox(row).center().y() - 4.0, std::max(20.0, width() - left - kFactsWide - 8.0), 8.0};
}

std::optional<std::size_t> ClipRows::rowAt(const QPointF& at) const {
    const auto row = static_cast<std::size_t>(std::max(at.y(), 0.0) / kRowHigh);
    return row < rows_.size() ? std::optional(row) : std::nullopt;
}

double ClipRows::placeIn(std::size_t row, double frame) const {
    const QRectF box = bar(row);
    const double most = std::max<double>(static_cast<double>(rows_[row].frames) - 1.0, 1.0);
    return box.left() + box.width() * frame / most;
}

void ClipRows::paintRow(QPainter& painter, std::size_t row) {
    const Row& own = rows_[row];
    const Palette& colours = theme();
    if (row == current_) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(colours.deep);
        painter.drawRoundedRect(rowBox(row).adjusted(0, 1, 0, -1), 4, 4);
        if (hasFocus()) {
            painter.setPen(QPen(colours.coral, 1.0));
            painter.setBrush(Qt::NoBrush);
            painter.drawRoundedRect(rowBox(row).adjusted(0.5, 1.5, -0.5, -1.5), 4, 4);
        }
    }
    painter.setPen(QPen(colours.faint, 1.2));
    for (const double y : {-3.0, 0.0, 3.0}) {
        const QPointF middle = grip(row).center() + QPointF(0.0, y);
        painter.drawLine(middle - QPointF(3.5, 0.0), middle + QPointF(3.5, 0.0));
    }
    const QRectF box(tickBox(row).center() - QPointF(6.5, 6.5), QSizeF(13, 13));
    painter.setPen(QPen(own.baked ? colours.glass : colours.faint, 1.3));
    painter.setBrush(Qt::NoBrush);
    painter.drawRoundedRect(box, 3, 3);
    if (own.baked) {
        painter.setPen(QPen(colours.glass, 2.0, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        painter.drawPolyline(QPolygonF{box.topLeft() + QPointF(3, 6.5), box.topLeft() + QPointF(5.5, 9.5),
                                       box.topLeft() + QPointF(10, 3.5)});
    }
    painter.setFont(textFont(12, own.baked ? QFont::DemiBold : QFont::Normal));
    painter.setPen(own.baked ? colours.text : colours.quiet);
    painter.drawText(nameBox(row).adjusted(2, 0, -2, 0), Qt::AlignLeft | Qt::AlignVCenter,
                     QFontMetricsF(painter.font()).elidedText(own.shown, Qt::ElideRight, kNameWide - 4.0));
    painter.setPen(Qt::NoPen);
    painter.setBrush(colours.line);
    painter.drawRoundedRect(bar(row), 3, 3);
    if (own.baked && own.frames > 1) {
        const QRectF kept(QPointF(placeIn(row, static_cast<double>(own.window.first)), bar(row).top()),
                          QPointF(placeIn(row, static_cast<double>(own.window.last)), bar(row).bottom()));
        painter.setBrush(colours.glass);
        painter.drawRoundedRect(kept, 3, 3);
        painter.setBrush(colours.text);
        for (const double x : {kept.left(), kept.right()}) {
            painter.drawRoundedRect(QRectF(x - 1.5, bar(row).top() - 3, 3, bar(row).height() + 6), 1.5, 1.5);
        }
    }
    painter.setFont(textFont(11));
    painter.setPen(colours.quiet);
    painter.drawText(QRectF(width() - kFactsWide, rowBox(row).top(), kFactsWide, kRowHigh),
                     Qt::AlignRight | Qt::AlignVCenter, own.facts);
}

void ClipRows::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    for (std::size_t row = 0; row < rows_.size(); ++row) {
        paintRow(painter, row);
    }
    if (drag_ == Drag::order && dragged_) {
        const double y =
            std::clamp(std::round(dragY_ / kRowHigh), 0.0, static_cast<double>(rows_.size())) * kRowHigh;
        painter.setPen(QPen(theme().coral, 2.0));
        painter.drawLine(QPointF(0, y), QPointF(width(), y));
    }
}

bool ClipRows::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && takesKey(static_cast<QKeyEvent*>(event)->key())) {
        event->accept(); // before the window takes it for its own
        return true;
    }
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        if (const auto row = rowAt(help->pos())) {
            QToolTip::showText(
                help->globalPos(),
                words(*row) + "\n" +
                    tr("Drag the lines to move it, the ends of its bar to trim it; a double click "
                       "renames it."),
                this);
        }
        return true;
    }
    return QWidget::event(event);
}

std::vector<bake::ClipChoice> ClipRows::chosen() const {
    const std::vector<bake::ClipChoice> all =
        bake::writtenOut(*session_.source(), session_.document().recipe);
    std::vector<bake::ClipChoice> clips;
    for (const Row& row : rows_) {
        const auto had =
            std::find_if(all.begin(), all.end(), [&](const auto& choice) { return choice.name == row.name; });
        if (row.baked) {
            clips.push_back(had != all.end() ? *had : bake::ClipChoice{row.name, std::nullopt, std::nullopt});
        }
    }
    return clips;
}

void ClipRows::choose(std::size_t row) {
    current_ = row;
    const auto& clips = session_.playhead().clips();
    for (std::size_t c = 0; c < clips.size(); ++c) {
        if (clips[c].sourceName == rows_[row].name) {
            session_.playhead().setClipIndex(static_cast<int>(c));
        }
    }
    setAccessibleDescription(words(row));
    update();
}

void ClipRows::tick(std::size_t row) {
    const bool last =
        rows_[row].baked && std::ranges::count_if(rows_, [](const Row& r) { return r.baked; }) == 1;
    if (last) {
        return; // one is always baked
    }
    rows_[row].baked = !rows_[row].baked;
    const QString name = rows_[row].shown;
    session_.edit(rows_[row].baked ? tr("Bake clip %1").arg(name) : tr("Leave out clip %1").arg(name),
                  [clips = chosen()](project::Document& d) { d.recipe.clips = clips; });
}

void ClipRows::move(std::size_t row, std::size_t to) {
    if (row == to || to >= rows_.size()) {
        return;
    }
    Row moved = rows_[row];
    rows_.erase(rows_.begin() + static_cast<std::ptrdiff_t>(row));
    rows_.insert(rows_.begin() + static_cast<std::ptrdiff_t>(to), moved);
    current_ = to;
    session_.edit(tr("Move clip %1").arg(moved.shown),
                  [clips = chosen()](project::Document& d) { d.recipe.clips = clips; });
}

void ClipRows::trim(std::size_t row, bool first, double frame, bool continuing) {
    Row& own = rows_[row];
    if (!own.baked || own.frames < 2) {
        return;
    }
    const auto at =
        static_cast<std::size_t>(std::clamp(std::round(frame), 0.0, static_cast<double>(own.frames - 1)));
    bake::FrameWindow window = own.window;
    (first ? window.first : window.last) = at;
    if (window.first > window.last) {
        (first ? window.first : window.last) = first ? window.last : window.first;
    }
    if (window == own.window) {
        return;
    }
    own.window = window;
    const bool whole = window.first == 0 && window.last + 1 == own.frames;
    session_.edit(
        tr("Trim clip %1").arg(own.shown),
        [&](project::Document& d) {
            d.recipe.clips =
                bake::withChoice(*session_.source(), d.recipe, own.name, [&](bake::ClipChoice& choice) {
                    choice.window = whole ? std::nullopt : std::optional(window);
                });
        },
        session_.gesture(continuing));
    update();
}

void ClipRows::startRename(std::size_t row) {
    if (!rows_[row].baked) {
        return;
    }
    renaming_ = row;
    name_->setGeometry(nameBox(row).adjusted(0, 1, 40, -1).toRect());
    name_->setText(rows_[row].shown);
    name_->selectAll();
    name_->show();
    name_->setFocus();
}

void ClipRows::finishRename() {
    if (!renaming_) {
        return;
    }
    const Row row = rows_[*renaming_];
    renaming_.reset();
    const QString fresh = name_->text().trimmed();
    name_->hide();
    setFocus();
    if (fresh.isEmpty() || fresh == row.shown) {
        return;
    }
    const std::string name = fresh.toStdString();
    const std::string old = row.shown.toStdString();
    session_.edit(tr("Rename clip %1 to %2").arg(row.shown, fresh), [&](project::Document& d) {
        d.recipe.clips =
            bake::withChoice(*session_.source(), d.recipe, row.name, [&](bake::ClipChoice& choice) {
                choice.shippedName = name == row.name ? std::string() : name;
            });
        for (bake::Transition& each : d.recipe.transitions) {
            each.from = each.from == old ? name : each.from;
            each.to = each.to == old ? name : each.to;
        }
    });
}

} // namespace ripple::app
