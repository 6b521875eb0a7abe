// What is painted over the model: curtain, tripod, the picked vertex, words.

#include "app/stage/stage.h"

#include "app/shell/theme.h"
#include "base/units.h"

#include <QPainter>

#include <algorithm>
#include <array>

namespace ripple::app {

namespace {

void chip(QPainter& painter, const QRectF& box, const QString& text, bool strong) {
    QColor ground = theme().deep;
    ground.setAlphaF(0.86f);
    painter.setPen(Qt::NoPen);
    painter.setBrush(ground);
    painter.drawRoundedRect(box, 5, 5);
    painter.setPen(strong ? theme().text : theme().quiet);
    painter.drawText(box, Qt::AlignCenter, text);
}

} // namespace

void Stage::paintOverlay(QPainter& painter) {
    painter.setFont(textFont(12));
    if (!session_.source()) {
        if (session_.sourceJob().running()) {
            paintMessage(painter, tr("Reading…"), QString::fromStdString(session_.document().source.path));
        } else if (session_.sourceProblem()) {
            paintMessage(painter, tr("This source can't be read"),
                         QString::fromStdString(session_.sourceProblem()->line()));
        } else {
            paintMessage(painter, tr("Drop a deforming mesh here"),
                         tr("a .glb or .gltf with a skin or animation, or any frame of an .obj sequence;\nor "
                            "open one with Project › Open source"));
        }
        return;
    }
    if (curtainShown()) {
        paintCurtain(painter);
    }
    paintPicked(painter);
    paintTripod(painter);
}

void Stage::paintCurtain(QPainter& painter) {
    const double x = session_.document().view.curtain * width();
    painter.setPen(QPen(theme().text, hoverCurtain_ || drag_ == Drag::curtain ? 2.5 : 1.6));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    const QPointF handle = curtainHandle();
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().text);
    painter.drawEllipse(handle, 12, 12);
    painter.setPen(QPen(theme().deep, 1.8, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    for (const double way : {-1.0, 1.0}) {
        painter.drawLine(handle + QPointF(way * 1.5, 0), handle + QPointF(way * 6.5, 0));
        painter.drawPolyline(QPolygonF{handle + QPointF(way * 3.5, -3), handle + QPointF(way * 6.5, 0),
                                       handle + QPointF(way * 3.5, 3)});
    }
    painter.setFont(textFont(12));
    const QString left = tr("source");
    const QString right = tr("decoded from the textures");
    const QFontMetricsF metrics(painter.font());
    const double y = height() - 44.0;
    const double leftWidth = metrics.horizontalAdvance(left) + 20;
    const double rightWidth = metrics.horizontalAdvance(right) + 20;
    chip(painter, {x - 8 - leftWidth, y, leftWidth, 22}, left, true);
    chip(painter, {x + 8, y, rightWidth, 22}, right, true);
}

void Stage::paintTripod(QPainter& painter) {
    const QPointF origin(34, height() - 40);
    const glm::mat4 view = camera_.view();
    struct Axis {
        glm::vec3 way;
        QColor colour;
        const char* name;
        float depth;
    };
    std::array<Axis, 3> axes = {{{{1, 0, 0}, theme().coral, "X", 0.0f},
                                 {{0, 1, 0}, theme().glass, "Y", 0.0f},
                                 {{0, 0, 1}, theme().brass, "Z", 0.0f}}};
    for (Axis& axis : axes) {
        const glm::vec4 seen = view * glm::vec4(axis.way, 0.0f);
        axis.way = glm::vec3(seen);
        axis.depth = seen.z;
    }
    std::sort(axes.begin(), axes.end(), [](const Axis& a, const Axis& b) { return a.depth < b.depth; });
    painter.setFont(textFont(11, QFont::DemiBold));
    for (const Axis& axis : axes) {
        const QPointF end = origin + QPointF(axis.way.x, -axis.way.y) * 22.0;
        painter.setPen(QPen(axis.colour, 2));
        painter.drawLine(origin, end);
        const QPointF label = origin + QPointF(axis.way.x, -axis.way.y) * 30.0;
        painter.drawText(QRectF(label.x() - 8, label.y() - 8, 16, 16), Qt::AlignCenter, axis.name);
    }
    const glm::vec3 size = bounds_.size();
    const auto metres = [](float value) {
        return QString::fromStdString(base::lengthText(static_cast<double>(value)));
    };
    painter.setFont(textFont(11.5));
    painter.setPen(theme().quiet);
    painter.drawText(
        QRectF(16, 10, 420, 18), Qt::AlignLeft | Qt::AlignVCenter,
        tr("%1 wide, %2 high, %3 deep in motion").arg(metres(size.x), metres(size.y), metres(size.z)));
    painter.drawText(QRectF(16, 28, 420, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("grid %1").arg(metres(gridCell())));
}

void Stage::paintPicked(QPainter& painter) {
    const int vertex = session_.pickedVertex();
    if (vertex < 0 || static_cast<std::size_t>(vertex) >= positions_.size()) {
        return;
    }
    bool inFront = false;
    const QPointF at = project(positions_[static_cast<std::size_t>(vertex)], &inFront);
    if (!inFront) {
        return;
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme().deep, 4));
    painter.drawEllipse(at, 7, 7);
    painter.setPen(QPen(theme().coral, 2));
    painter.drawEllipse(at, 7, 7);
    painter.setFont(textFont(12));
    const QString text =
        tr("vertex %1").arg(QString::fromStdString(base::countText(static_cast<std::size_t>(vertex))));
    const double wide = QFontMetricsF(painter.font()).horizontalAdvance(text) + 16;
    chip(painter, {at.x() + 13, at.y() - 11, wide, 22}, text, true);
}

void Stage::paintMessage(QPainter& painter, const QString& title, const QString& words) {
    const QRectF box = QRectF(rect()).adjusted(40, 0, -40, 0);
    painter.setPen(theme().text);
    painter.setFont(textFont(19, QFont::DemiBold));
    painter.drawText(QRectF(box.left(), height() * 0.5 - 46, box.width(), 34), Qt::AlignCenter, title);
    painter.setPen(theme().quiet);
    painter.setFont(textFont(13));
    painter.drawText(QRectF(box.left(), height() * 0.5 - 6, box.width(), 90),
                     Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, words);
}

} // namespace ripple::app
