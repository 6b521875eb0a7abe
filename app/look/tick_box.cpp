#include "app/look/tick_box.h"

#include "app/look/theme.h"

#include <QPainter>

namespace ripple::app {

TickBox::TickBox(const QString& words, QWidget* parent) : QAbstractButton(parent) {
    setText(words);
    setCheckable(true);
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
}

QSize TickBox::sizeHint() const {
    return {26 + fontMetrics().horizontalAdvance(text()), 21};
}

void TickBox::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF box(0.75, height() / 2.0 - 7.5, 15, 15);
    painter.setPen(QPen(hasFocus() ? theme().text : isChecked() ? theme().glass : theme().faint, 1.3));
    painter.setBrush(isChecked() ? theme().glass : theme().deep);
    painter.drawRoundedRect(box, 4, 4);
    if (isChecked()) {
        const QPointF c = box.center();
        painter.setPen(QPen(theme().deep, 2.0, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        painter.drawPolyline(QPolygonF{c + QPointF(-3.6, 0.2), c + QPointF(-1, 3), c + QPointF(3.8, -3.2)});
    }
    painter.setPen(theme().text);
    painter.drawText(QRectF(24, 0, width() - 24, height()), Qt::AlignLeft | Qt::AlignVCenter,
                     fontMetrics().elidedText(text(), Qt::ElideRight, width() - 24));
}

} // namespace ripple::app
