#include "app/look/value_slider.h"

#include "app/look/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

constexpr double kEdge = 7.0; ///< the handle's half width

} // namespace

ValueSlider::ValueSlider(QWidget* parent) : QWidget(parent) {
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void ValueSlider::setRange(double least, double most, bool whole) {
    least_ = least;
    most_ = most;
    whole_ = whole;
    update();
}

void ValueSlider::setValue(double value) {
    if (value != value_) {
        value_ = value;
        update();
    }
}

double ValueSlider::groove() const {
    return std::max(1.0, width() - 2.0 * kEdge);
}

double ValueSlider::placeOf(double value) const {
    const double share = most_ > least_ ? (value - least_) / (most_ - least_) : 0.0;
    return kEdge + groove() * std::clamp(share, 0.0, 1.0);
}

double ValueSlider::step() const {
    return whole_ ? 1.0 : (most_ - least_) / 100.0;
}

void ValueSlider::take(double value, bool continuing) {
    const double inside = std::clamp(whole_ ? std::round(value) : value, least_, most_);
    if (inside != value_) {
        value_ = inside;
        update();
        Q_EMIT edited(value_, continuing);
    }
}

bool ValueSlider::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride) { // arrows step frames elsewhere in the window
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Left || key == Qt::Key_Right || key == Qt::Key_Up || key == Qt::Key_Down ||
            key == Qt::Key_Home || key == Qt::Key_End) {
            event->accept();
            return true;
        }
    }
    return QWidget::event(event);
}

void ValueSlider::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const double y = height() / 2.0;
    const double x = placeOf(value_);
    painter.setPen(QPen(theme().line, 4.0, Qt::SolidLine, Qt::RoundCap));
    painter.drawLine(QPointF(kEdge, y), QPointF(kEdge + groove(), y));
    const double from = least_ < 0.0 && most_ > 0.0 ? placeOf(0.0) : kEdge;
    painter.setPen(QPen(isEnabled() ? theme().coral : theme().faint, 4.0, Qt::SolidLine, Qt::RoundCap));
    if (std::abs(x - from) > 1.0) {
        painter.drawLine(QPointF(from, y), QPointF(x, y));
    }
    painter.setPen(QPen(hasFocus() ? theme().coral : theme().deep, 1.5));
    painter.setBrush(theme().text);
    painter.drawRoundedRect(QRectF(x - 4.0, y - 8.0, 8.0, 16.0), 3.0, 3.0);
}

void ValueSlider::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) {
        return QWidget::mousePressEvent(event);
    }
    dragging_ = true;
    dragged_ = false;
    last_ = event->position().x();
    if (std::abs(last_ - placeOf(value_)) > kEdge + 2.0) { // beside the handle: it comes to the pointer
        take(least_ + (last_ - kEdge) / groove() * (most_ - least_), false);
        dragged_ = true;
    }
    at_ = value_;
}

void ValueSlider::mouseMoveEvent(QMouseEvent* event) {
    if (!dragging_) {
        return;
    }
    const double pace = event->modifiers() & Qt::ShiftModifier ? 0.1 : 1.0;
    at_ += pace * (event->position().x() - last_) / groove() * (most_ - least_);
    last_ = event->position().x();
    const double before = value_;
    take(at_, dragged_);
    dragged_ = dragged_ || value_ != before;
}

void ValueSlider::mouseReleaseEvent(QMouseEvent*) {
    dragging_ = false;
}

void ValueSlider::keyPressEvent(QKeyEvent* event) {
    const double pace = !whole_ && event->modifiers() & Qt::ShiftModifier ? 0.1 : 1.0;
    switch (event->key()) {
    case Qt::Key_Left:
    case Qt::Key_Down:
        return take(value_ - pace * step(), false);
    case Qt::Key_Right:
    case Qt::Key_Up:
        return take(value_ + pace * step(), false);
    case Qt::Key_Home:
        return take(least_, false);
    case Qt::Key_End:
        return take(most_, false);
    default:
        QWidget::keyPressEvent(event);
    }
}

void ValueSlider::wheelEvent(QWheelEvent* event) {
    if (!hasFocus()) { // a page that is scrolled must not change what passes below the pointer
        return event->ignore();
    }
    take(value_ + (event->angleDelta().y() > 0 ? step() : -step()), false);
    event->accept();
}

} // namespace ripple::app
