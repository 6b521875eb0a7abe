#include "app/benches/move/curve_editor.h"

#include "app/look/theme.h"
#include "motion/noise.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <utility>

namespace ripple::app {

namespace {

constexpr double kReach = 9.0; // pixels about a point that take hold of it

} // namespace

CurveEditor::CurveEditor(QWidget* parent) : QWidget(parent) {
    setObjectName("curve");
    setFixedHeight(sizeHint().height());
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::CrossCursor);
    setAccessibleName(tr("One turn of the curve"));
    setToolTip(tr("Drag a point, or stroke through several. The curve goes round, so it always closes."));
}

void CurveEditor::setCurve(std::vector<float> values, const QColor& colour) {
    values_ = std::move(values);
    colour_ = colour;
    chosen_ = std::min(chosen_, values_.size() - 1);
    update();
}

void CurveEditor::setTurn(double place) {
    place_ = place;
    update();
}

QRectF CurveEditor::plot() const {
    return {38.0, 8.0, width() - 48.0, height() - 26.0};
}

double CurveEditor::yOf(float value) const {
    return plot().center().y() - 0.5 * plot().height() * static_cast<double>(value);
}

float CurveEditor::valueAt(double y) const {
    const double value = (plot().center().y() - y) / (0.5 * plot().height());
    return static_cast<float>(std::clamp(std::round(value * 100.0) / 100.0, -1.0, 1.0));
}

QPointF CurveEditor::placeOf(std::size_t point) const {
    const double x = static_cast<double>(point) / static_cast<double>(values_.size());
    return {plot().left() + x * plot().width(), yOf(values_[point])};
}

std::size_t CurveEditor::pointNear(double x) const {
    const double count = static_cast<double>(values_.size());
    const double at = (x - plot().left()) / plot().width() * count;
    return static_cast<std::size_t>(std::clamp(std::round(at), 0.0, count)) %
           values_.size(); // the end is the start
}

void CurveEditor::set(std::size_t point, float value) {
    chosen_ = point;
    values_[point] = value;
}

void CurveEditor::stroke(const QPointF& from, const QPointF& to) {
    const std::vector<float> before = values_;
    // Every point between the two, so that a quick hand leaves none out.
    const auto steps = static_cast<int>(std::ceil(std::abs(to.x() - from.x()))) + 1;
    for (int i = 1; i <= steps; ++i) {
        const QPointF at = from + (to - from) * (static_cast<double>(i) / steps);
        set(pointNear(at.x()), valueAt(at.y()));
    }
    if (values_ != before) {
        update();
        Q_EMIT edited(values_, std::exchange(begun_, true));
    }
}

void CurveEditor::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || values_.empty()) {
        return;
    }
    begun_ = false;
    last_ = event->position();
    const std::size_t near = pointNear(last_.x());
    const QPointF way = last_ - placeOf(near);
    held_ = std::hypot(way.x(), way.y()) <= kReach;
    drawn_ = !held_;
    if (held_) {
        chosen_ = near;
        update();
    } else {
        stroke(last_, last_);
    }
}

void CurveEditor::mouseMoveEvent(QMouseEvent* event) {
    if (held_) {
        const float value = valueAt(event->position().y());
        if (value != values_[chosen_]) {
            set(chosen_, value);
            update();
            Q_EMIT edited(values_, std::exchange(begun_, true));
        }
    } else if (drawn_) {
        stroke(last_, event->position());
        last_ = event->position();
    }
}

void CurveEditor::mouseReleaseEvent(QMouseEvent*) {
    held_ = drawn_ = false;
}

void CurveEditor::keyPressEvent(QKeyEvent* event) {
    const std::size_t n = values_.size();
    const float step = event->modifiers() & Qt::ShiftModifier ? 0.01f : 0.1f;
    switch (event->key()) {
    case Qt::Key_Right:
        chosen_ = (chosen_ + 1) % n;
        break;
    case Qt::Key_Left:
        chosen_ = (chosen_ + n - 1) % n;
        break;
    case Qt::Key_Up:
    case Qt::Key_Down: {
        const float way = event->key() == Qt::Key_Up ? step : -step;
        set(chosen_, std::clamp(std::round((values_[chosen_] + way) * 100.0f) / 100.0f, -1.0f, 1.0f));
        Q_EMIT edited(values_, false);
        break;
    }
    default:
        return QWidget::keyPressEvent(event);
    }
    update();
}

void CurveEditor::focusInEvent(QFocusEvent*) {
    update();
}

void CurveEditor::focusOutEvent(QFocusEvent*) {
    update();
}

void CurveEditor::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Palette& p = theme();
    painter.setPen(QPen(hasFocus() ? p.glass : p.line, 1));
    painter.setBrush(p.deep);
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6);
    if (values_.size() < 3) {
        return;
    }
    const QRectF box = plot();
    painter.setPen(QPen(p.line, 1));
    for (int i = 0; i <= 4; ++i) {
        const double x = box.left() + box.width() * i / 4.0;
        painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()));
    }
    // Where the vertex rests: the mean of what is drawn (core/motion/shapes.cpp takes it away).
    const float mean =
        std::accumulate(values_.begin(), values_.end(), 0.0f) / static_cast<float>(values_.size());
    painter.setPen(QPen(p.quiet, 1, Qt::DashLine));
    painter.drawLine(QPointF(box.left(), yOf(mean)), QPointF(box.right(), yOf(mean)));
    painter.setFont(textFont(10.5));
    painter.setPen(p.quiet);
    const auto note = [&](double y, const QString& words) {
        painter.drawText(QRectF(0, y - 8, box.left() - 8, 16), Qt::AlignRight | Qt::AlignVCenter, words);
    };
    const double rest = yOf(mean);
    note(rest, tr("rest"));
    for (const auto& [value, words] : {std::pair(1.0f, "+1"), {-1.0f, "−1"}}) {
        if (std::abs(yOf(value) - rest) > 13.0) {
            note(yOf(value), words);
        }
    }
    for (int i = 0; i <= 4; i += 2) {
        const double x = box.left() + box.width() * i / 4.0;
        const auto side = i == 0 ? Qt::AlignLeft : i == 4 ? Qt::AlignRight : Qt::AlignHCenter;
        const double left = i == 0 ? x : i == 4 ? x - 80 : x - 40;
        painter.drawText(QRectF(left, box.bottom() + 2, 80, 14), side,
                         i == 0   ? tr("0")
                         : i == 2 ? tr("½ turn")
                                  : tr("1 turn"));
    }
    const auto at = [&](double x) {
        const double inside = x - std::floor(x);
        return QPointF(box.left() + x * box.width(),
                       yOf(motion::closedCurve(values_, static_cast<float>(inside))));
    };
    constexpr int kSteps = 160;
    QPainterPath path(at(0.0));
    for (int i = 1; i <= kSteps; ++i) {
        path.lineTo(at(static_cast<double>(i) / kSteps));
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(colour_, 1.8));
    painter.drawPath(path);
    painter.setPen(QPen(p.text, 1));
    const QPointF now = at(place_);
    painter.drawLine(QPointF(now.x(), box.top()), QPointF(now.x(), box.bottom()));
    for (std::size_t i = 0; i < values_.size(); ++i) {
        const bool here = i == chosen_ && (hasFocus() || held_);
        painter.setPen(QPen(here ? p.text : p.deep, 1.4));
        painter.setBrush(colour_);
        painter.drawEllipse(placeOf(i), here ? 5.0 : 4.0, here ? 5.0 : 4.0);
    }
    // The first point once more, where the turn ends.
    painter.setPen(QPen(colour_, 1.4));
    painter.setBrush(p.deep);
    painter.drawEllipse(QPointF(box.right(), yOf(values_[0])), 3.2, 3.2);
}

} // namespace ripple::app
