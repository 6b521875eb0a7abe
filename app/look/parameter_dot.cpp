#include "app/look/parameter_dot.h"

#include "app/look/theme.h"

#include <QPainter>

namespace ripple::app {

ParameterDot::ParameterDot(const QString& of, QWidget* parent) : QAbstractButton(parent) {
    setCheckable(true);
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    setFixedSize(sizeHint());
    setAccessibleName(tr("%1: a parameter").arg(of));
    setToolTip(tr("Makes it a parameter: the engine may change it while it plays. Its slider, range and name "
                  "are on the strip's Parameters page."));
}

void ParameterDot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF centre(width() / 2.0, height() / 2.0);
    const bool lit = underMouse() || hasFocus();
    painter.setPen(QPen(isChecked() ? theme().coral : lit ? theme().text : theme().faint, 1.4));
    painter.setBrush(isChecked() ? theme().coral : theme().deep);
    painter.drawEllipse(centre, 4.0, 4.0);
    if (hasFocus()) {
        painter.setPen(QPen(theme().text, 1.0));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(centre, 6.3, 6.3);
    }
}

} // namespace ripple::app
