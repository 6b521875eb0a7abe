#include "app/shell/number_field.h"

#include <QApplication>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QRegularExpression>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

constexpr double kStep = 1.0; // of a key, a turn of the wheel, six pixels of a drag

} // namespace

NumberField::NumberField(QWidget* parent) : QLineEdit(parent) {
    setAlignment(Qt::AlignRight);
    setFocusPolicy(Qt::TabFocus); // a press begins a drag; only a click without one goes into the text
    setCursor(Qt::SizeHorCursor);
    connect(this, &QLineEdit::editingFinished, this, &NumberField::takeText);
    refresh();
}

void NumberField::setRange(double low, double high) {
    low_ = low;
    high_ = high;
}

void NumberField::setDecimals(int decimals) {
    decimals_ = decimals;
    refresh();
}

void NumberField::setUnit(const QString& unit) {
    unit_ = unit;
    refresh();
}

void NumberField::setDefault(double value, const QString& words) {
    default_ = value;
    defaultWords_ = words;
    refresh();
}

void NumberField::setValue(double value) {
    value_ = value;
    refresh();
}

void NumberField::refresh() {
    if (!defaultWords_.isEmpty() && value_ == default_) {
        setText(defaultWords_);
    } else {
        QString number = QString::number(value_, 'f', decimals_);
        if (decimals_ > 0 && number.contains('.')) {
            number.remove(QRegularExpression("\\.?0+$"));
        }
        setText(unit_.isEmpty() ? number : number + " " + unit_);
    }
    setCursorPosition(0);
}

void NumberField::take(double value, bool continuing) {
    const double scale = std::pow(10.0, decimals_);
    const double inside = std::clamp(std::round(value * scale) / scale, low_, high_);
    if (inside != value_) {
        value_ = inside;
        Q_EMIT edited(value_, continuing);
    }
    refresh();
}

void NumberField::takeText() {
    if (!isModified()) {
        return;
    }
    setModified(false);
    QString typed = text().trimmed();
    if (typed == defaultWords_ || typed.isEmpty()) {
        return take(default_, false);
    }
    static const QRegularExpression kNumber("^([+-]?[0-9]*[.,]?[0-9]+)");
    const QRegularExpressionMatch match = kNumber.match(typed);
    // A decimal comma is what many people type; the program itself writes points.
    if (match.hasMatch()) {
        take(match.captured(1).replace(',', '.').toDouble(), false);
    } else {
        refresh();
    }
}

void NumberField::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && !hasFocus()) {
        dragging_ = true;
        dragged_ = false;
        dragFrom_ = value_;
        dragStart_ = event->pos();
        return;
    }
    QLineEdit::mousePressEvent(event);
}

void NumberField::mouseMoveEvent(QMouseEvent* event) {
    if (!dragging_) {
        return QLineEdit::mouseMoveEvent(event);
    }
    const int way = event->pos().x() - dragStart_.x();
    if (!dragged_ && std::abs(way) < QApplication::startDragDistance()) {
        return;
    }
    const double pace = event->modifiers() & Qt::ShiftModifier     ? 0.1
                        : event->modifiers() & Qt::ControlModifier ? 10.0
                                                                   : 1.0;
    take(dragFrom_ + std::round(way / 6.0) * kStep * pace, dragged_);
    dragged_ = true;
}

void NumberField::mouseReleaseEvent(QMouseEvent* event) {
    if (dragging_) {
        dragging_ = false;
        if (!dragged_) {
            setFocus(Qt::MouseFocusReason);
            selectAll();
        }
        return;
    }
    QLineEdit::mouseReleaseEvent(event);
}

void NumberField::keyPressEvent(QKeyEvent* event) {
    const double pace = event->modifiers() & Qt::ShiftModifier     ? 0.1
                        : event->modifiers() & Qt::ControlModifier ? 10.0
                                                                   : 1.0;
    switch (event->key()) {
    case Qt::Key_Up:
        return take(value_ + kStep * pace, false);
    case Qt::Key_Down:
        return take(value_ - kStep * pace, false);
    case Qt::Key_Escape:
        refresh();
        setModified(false);
        clearFocus();
        return;
    default:
        QLineEdit::keyPressEvent(event);
    }
}

void NumberField::wheelEvent(QWheelEvent* event) {
    // Only with the focus: a panel that is scrolled must not change what passes below the pointer.
    if (!hasFocus()) {
        return event->ignore();
    }
    take(value_ + (event->angleDelta().y() > 0 ? kStep : -kStep), false);
    event->accept();
}

void NumberField::contextMenuEvent(QContextMenuEvent* event) {
    QMenu menu;
    menu.addAction(defaultWords_.isEmpty() ? tr("Reset to %1").arg(default_)
                                           : tr("Reset to “%1”").arg(defaultWords_),
                   this, [this] { take(default_, false); });
    menu.exec(event->globalPos());
}

} // namespace ripple::app
