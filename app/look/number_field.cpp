#include "app/look/number_field.h"

#include "app/look/theme.h"
#include "base/quantity.h"

#include <QApplication>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

double paceOf(Qt::KeyboardModifiers modifiers) {
    return modifiers & Qt::ShiftModifier ? 0.1 : modifiers & Qt::ControlModifier ? 10.0 : 1.0;
}

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

void NumberField::setUnit(const QString& unit, const QString& one) {
    unit_ = unit;
    one_ = one;
    refresh();
}

void NumberField::setOtherUnit(const QString& unit) {
    otherUnit_ = unit;
}

void NumberField::setUnitShown(bool shown) {
    unitShown_ = shown;
    refresh();
}

void NumberField::setWhole(const QString& words) {
    wholeWords_ = words;
}

void NumberField::setMark(const QString& mark) {
    mark_ = mark;
}

void NumberField::paintEvent(QPaintEvent* event) {
    QLineEdit::paintEvent(event);
    if (!mark_.isEmpty()) {
        QPainter painter(this);
        painter.setFont(textFont(10.5));
        painter.setPen(theme().quiet);
        painter.drawText(QRectF(5, 0, 16, height()), Qt::AlignLeft | Qt::AlignVCenter, mark_);
    }
}

void NumberField::setStep(double step) {
    step_ = step;
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

QString NumberField::shownText(double value, bool unit) const {
    QString shown = QString::number(value, 'f', decimals_);
    while (decimals_ > 0 && shown.endsWith('0')) {
        shown.chop(1);
    }
    if (shown.endsWith('.')) {
        shown.chop(1);
    }
    if (!unit_.isEmpty() && unit) {
        const bool single = !one_.isEmpty() && std::abs(value) == 1.0;
        shown += (unit_ == "°" ? "" : " ") + (single ? one_ : unit_);
    }
    return shown;
}

void NumberField::refresh() {
    const bool words = !defaultWords_.isEmpty() && value_ == default_;
    const QString shown = words ? defaultWords_ : shownText(value_, unitShown_);
    if (shown != text()) {
        setText(shown);
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
    // A decimal comma is what many people type; the program itself writes points.
    const auto read = base::parseQuantity(QString(typed).replace(',', '.').toStdString());
    if (!read) {
        return refuse(typed);
    }
    if (read->unit.empty()) {
        return takeTyped(read->value);
    }
    if (const auto factor = base::unitFactor(read->unit, unit_.toStdString())) {
        return takeTyped(read->value * *factor);
    }
    if (const auto factor = base::unitFactor(read->unit, otherUnit_.toStdString())) {
        refresh();
        Q_EMIT editedIn(read->value * *factor);
        return;
    }
    refuse(typed);
}

void NumberField::takeTyped(double value) {
    constexpr double kNear = 1e-9;
    if (!wholeWords_.isEmpty() && std::abs(value - std::round(value)) > kNear) {
        refresh();
        explain(wholeWords_.arg(value).arg(std::floor(value)).arg(std::ceil(value)));
        return;
    }
    take(value, false);
}

void NumberField::refuse(const QString& typed) {
    refresh();
    explain(unit_.isEmpty() ? tr("“%1” is not a number.").arg(typed)
                            : tr("“%1” is not a number in %2.").arg(typed, unit_));
}

void NumberField::explain(const QString& words) {
    QToolTip::showText(mapToGlobal(QPoint(0, height())), words + " " + tr("It stays %1.").arg(text()), this);
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
    const double pace = paceOf(event->modifiers());
    take(dragFrom_ + std::round(way / 6.0) * step_ * pace, dragged_);
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
    const double pace = paceOf(event->modifiers());
    switch (event->key()) {
    case Qt::Key_Up:
        return take(value_ + step_ * pace, false);
    case Qt::Key_Down:
        return take(value_ - step_ * pace, false);
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
    take(value_ + (event->angleDelta().y() > 0 ? step_ : -step_), false);
    event->accept();
}

void NumberField::contextMenuEvent(QContextMenuEvent* event) {
    QMenu menu;
    menu.addAction(defaultWords_.isEmpty() ? tr("Reset to %1").arg(shownText(default_, true))
                                           : tr("Reset to “%1”").arg(defaultWords_),
                   this, [this] { take(default_, false); });
    menu.exec(event->globalPos());
}

} // namespace ripple::app
