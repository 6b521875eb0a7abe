#include "app/charts/axes_drawing.h"

#include "app/look/theme.h"
#include "app/session/words.h"
#include "base/units.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <array>
#include <cmath>

namespace ripple::app {

namespace {

constexpr double kLength = 34.0; // of an arrow, pixels

/// Where a direction of glTF's is drawn: X to the right, Y up, Z to the left and towards the eye.
QPointF drawn(const glm::dvec3& direction) {
    return kLength * (direction.x * QPointF(0.95, 0.22) + direction.y * QPointF(0.0, -1.0) +
                      direction.z * QPointF(-0.72, 0.42));
}

QColor colourOfAxis(std::size_t axis) {
    const std::array colours = {theme().coral, theme().glass, theme().brass};
    return colours[axis];
}

void drawArrow(QPainter& painter, const QPointF& origin, const QPointF& way, const QColor& colour,
               const QString& letter) {
    const QPointF end = origin + way;
    const double length = std::hypot(way.x(), way.y());
    const QPointF along = way / length;
    const QPointF across(-along.y(), along.x());
    painter.setPen(QPen(colour, 2.0, Qt::SolidLine, Qt::RoundCap));
    painter.drawLine(origin, end - 5.0 * along);
    QPainterPath head(end);
    head.lineTo(end - 8.0 * along + 3.6 * across);
    head.lineTo(end - 8.0 * along - 3.6 * across);
    painter.fillPath(head, colour);
    const QPointF at = end + 10.0 * along;
    painter.drawText(QRectF(at.x() - 10.0, at.y() - 9.0, 20.0, 18.0), Qt::AlignCenter, letter);
}

} // namespace

AxesDrawing::AxesDrawing(QWidget* parent) : QWidget(parent) {
    setObjectName("axesDrawing");
    setTarget({});
}

QSize AxesDrawing::sizeHint() const {
    return {280, 112};
}

void AxesDrawing::setTarget(const bundle::Target& target) {
    target_ = target;
    setAccessibleName(tr("Axes here and there"));
    setAccessibleDescription(text(bundle::words(target)));
    setMinimumHeight(sizeHint().height());
    update();
}

QPointF AxesDrawing::wayOf(std::size_t axis) const {
    glm::dvec3 theirs(0.0);
    theirs[static_cast<int>(axis)] = 1.0;
    return drawn(target_.axes.back().turned(theirs));
}

void AxesDrawing::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme().line, 1.0));
    painter.setBrush(theme().ground);
    painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6.0, 6.0);
    painter.setFont(textFont(12.0, QFont::DemiBold));
    const double middle = 0.5 * height() - 4.0;
    const QPointF here(0.27 * width(), middle);
    const QPointF there(0.73 * width(), middle);
    for (std::size_t axis = 0; axis < 3; ++axis) {
        glm::dvec3 own(0.0);
        own[static_cast<int>(axis)] = 1.0;
        const QString letter(QChar("XYZ"[axis]));
        drawArrow(painter, here, drawn(own), colourOfAxis(axis), letter);
        drawArrow(painter, there, wayOf(axis), colourOfAxis(axis), letter);
    }
    painter.setFont(textFont(11.0));
    painter.setPen(theme().quiet);
    QStringList caption{tr("there")};
    if (const double units = 1.0 / target_.metresPerUnit; std::abs(units - 1.0) > 1e-9) {
        caption << tr("× %1").arg(text(base::numberText(units)));
    }
    if (target_.vFromBelow) {
        caption << tr("V from below");
    }
    const QRectF left(0.0, height() - 22.0, 0.5 * width(), 18.0);
    painter.drawText(left, Qt::AlignCenter, tr("glTF"));
    painter.drawText(left.translated(0.5 * width(), 0.0), Qt::AlignCenter, caption.join(", "));
}

} // namespace ripple::app
