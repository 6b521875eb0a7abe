#include "app/benches/scatter/mix_bar.h"

#include "app/look/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

constexpr double kGrip = 7.0; // pixels
constexpr double kStep = 0.05;
constexpr double kFineStep = 0.01;

} // namespace

MixBar::MixBar(QWidget* parent) : QWidget(parent) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(30);
    setAccessibleName(tr("Clip mix"));
    setToolTip(
        tr("How often each clip is chosen. Drag the borders; with keys, Left and Right choose a border and "
           "Up and Down move it."));
}

void MixBar::setParts(std::vector<Part> parts) {
    if (parts == parts_) {
        return;
    }
    parts_ = std::move(parts);
    chosen_ = std::min(chosen_, parts_.size() > 1 ? parts_.size() - 2 : 0);
    describe();
    update();
}

double MixBar::sum() const {
    double all = 0.0;
    for (const Part& part : parts_) {
        all += part.weight;
    }
    return all;
}

double MixBar::shareBefore(std::size_t part) const {
    const double all = sum();
    double before = 0.0;
    for (std::size_t p = 0; p < part; ++p) {
        before += all > 0.0 ? parts_[p].weight / all : p == 0 ? 1.0 : 0.0;
    }
    return before;
}

void MixBar::describe() {
    QStringList words;
    for (std::size_t p = 0; p < parts_.size(); ++p) {
        words << tr("%1 %2 %")
                     .arg(parts_[p].name)
                     .arg(std::round(100.0 * (shareBefore(p + 1) - shareBefore(p))));
    }
    setAccessibleDescription(words.join(", "));
}

QPointF MixBar::borderAt(std::size_t part) const {
    return {shareBefore(part + 1) * width(), 0.5 * height()};
}

int MixBar::borderUnder(double x) const {
    int best = -1;
    double nearest = kGrip;
    for (std::size_t b = 0; b + 1 < parts_.size(); ++b) {
        const double away = std::abs(borderAt(b).x() - x);
        // Of borders that lie on each other the last one can be drawn out of them, at the left end.
        if (away < nearest || (away == nearest && x <= borderAt(b).x())) {
            nearest = away;
            best = static_cast<int>(b);
        }
    }
    return best;
}

void MixBar::moveBorder(std::size_t border, double to, bool continuing) {
    const double low = shareBefore(border);
    const double high = shareBefore(border + 2);
    const double at = std::clamp(std::round(100.0 * to) / 100.0, low, high);
    std::vector<double> weights;
    for (std::size_t p = 0; p < parts_.size(); ++p) {
        weights.push_back(shareBefore(p + 1) - shareBefore(p));
    }
    weights[border] = at - low;
    weights[border + 1] = high - at;
    for (double& weight : weights) {
        weight = std::round(1000.0 * weight) / 1000.0;
    }
    Q_EMIT edited(weights, continuing);
}

void MixBar::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    QPainterPath clip;
    clip.addRoundedRect(QRectF(rect()).adjusted(0.5, 1.5, -0.5, -1.5), 6, 6);
    painter.fillPath(clip, theme().deep);
    painter.setClipPath(clip);
    painter.setFont(textFont(11.5, QFont::DemiBold));
    const QFontMetricsF metrics(painter.font());
    for (std::size_t p = 0; p < parts_.size(); ++p) {
        const double left = shareBefore(p) * width();
        const double right = shareBefore(p + 1) * width();
        const QRectF box(left, 0, right - left, height());
        painter.fillRect(box, parts_[p].tone);
        const int share = static_cast<int>(std::round(100.0 * (shareBefore(p + 1) - shareBefore(p))));
        QString words = tr("%1 %2 %").arg(parts_[p].name).arg(share);
        words = metrics.horizontalAdvance(words) + 10 <= box.width() ? words : parts_[p].name;
        painter.setPen(parts_[p].tone.lightnessF() > 0.5f ? QColor("#0F1F26") : QColor("#EAE4D3"));
        if (box.width() > 14) {
            painter.drawText(box.adjusted(4, 0, -4, 0), Qt::AlignCenter,
                             metrics.elidedText(words, Qt::ElideRight, box.width() - 8));
        }
    }
    painter.setClipping(false);
    for (std::size_t b = 0; b + 1 < parts_.size(); ++b) {
        const bool strong = held_ == static_cast<int>(b) || (hasFocus() && chosen_ == b);
        const double x = std::clamp(borderAt(b).x(), 2.0, width() - 2.0);
        painter.setPen(QPen(theme().deep, strong ? 5.0 : 2.0));
        painter.drawLine(QPointF(x, 2), QPointF(x, height() - 2));
        if (strong) {
            painter.setPen(QPen(theme().text, 2.0));
            painter.drawLine(QPointF(x, 2), QPointF(x, height() - 2));
        }
    }
    if (hasFocus()) {
        painter.setPen(QPen(theme().text, 1.2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6);
    }
}

void MixBar::mousePressEvent(QMouseEvent* event) {
    held_ = event->button() == Qt::LeftButton ? borderUnder(event->position().x()) : -1;
    dragged_ = false;
    if (held_ >= 0) {
        chosen_ = static_cast<std::size_t>(held_);
        update();
    }
}

void MixBar::mouseMoveEvent(QMouseEvent* event) {
    if (held_ < 0) {
        setCursor(borderUnder(event->position().x()) >= 0 ? Qt::SplitHCursor : Qt::ArrowCursor);
        return;
    }
    moveBorder(static_cast<std::size_t>(held_), event->position().x() / std::max(width(), 1), dragged_);
    dragged_ = true;
}

void MixBar::mouseReleaseEvent(QMouseEvent*) {
    held_ = -1;
    update();
}

bool MixBar::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Left || key == Qt::Key_Right || key == Qt::Key_Up || key == Qt::Key_Down) {
            event->accept(); // they step through time elsewhere
        }
    }
    return QWidget::event(event);
}

void MixBar::keyPressEvent(QKeyEvent* event) {
    if (parts_.size() < 2) {
        QWidget::keyPressEvent(event);
        return;
    }
    const double step = event->modifiers() & Qt::ShiftModifier ? kFineStep : kStep;
    switch (event->key()) {
    case Qt::Key_Left:
        chosen_ = chosen_ > 0 ? chosen_ - 1 : 0;
        break;
    case Qt::Key_Right:
        chosen_ = std::min(chosen_ + 1, parts_.size() - 2);
        break;
    case Qt::Key_Up:
        moveBorder(chosen_, shareBefore(chosen_ + 1) + step, false);
        break;
    case Qt::Key_Down:
        moveBorder(chosen_, shareBefore(chosen_ + 1) - step, false);
        break;
    default:
        QWidget::keyPressEvent(event);
        return;
    }
    update();
}

} // namespace ripple::app
