// What is painted over the model: curtain, tripod, the picked vertex, words.

#include "app/stage/stage.h"

#include "app/charts/ramp.h"
#include "app/look/theme.h"
#include "base/units.h"

#include <QLinearGradient>
#include <QPainter>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include <glm/geometric.hpp>

namespace ripple::app {

namespace {

constexpr double kLooksHeight = 48.0; // pixels at the top that the looks' buttons take

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

void Stage::paintChip(QPainter& painter, const QRectF& box, const QString& words) {
    chip(painter, box, words, true);
}

void Stage::paintOverlay(QPainter& painter) {
    painter.setFont(textFont(12));
    if (!session_.source()) {
        if (session_.sourceJob().running()) {
            paintMessage(painter, tr("Reading…"), QString::fromStdString(session_.document().source.path));
        } else if (session_.sourceProblem()) {
            paintMessage(painter, tr("This source can't be read"),
                         QString::fromStdString(session_.sourceProblem()->line()));
        } else {
            paintMessage(
                painter, tr("Drop a deforming mesh here"),
                tr("It can be a scene with a skin or animation, any frame of an .obj or .ply sequence, or a "
                   "point cache.\nProject › Open source opens one too; a test shape needs no file."));
        }
        return;
    }
    if (showsCrowd()) {
        paintCrowd(painter);
        paintTripod(painter);
        return;
    }
    if (const auto crowd = session_.crowd().state(); crowdCamera_ && crowd) {
        // What is seen is one model, whatever the panel says.
        const QString words =
            crowd->score ? tr("The copies can't be drawn here: the score reads more of each vertex than this "
                              "graphics processor takes, or its code does not compile.")
                         : renderer_.bakeProblem();
        if (!words.isEmpty()) {
            chip(painter, {20, height() - 72.0, painter.fontMetrics().horizontalAdvance(words) + 22.0, 24},
                 words, true);
        }
    }
    if (curtainShown()) {
        paintRestBounds(painter);
        paintCurtain(painter);
    }
    const project::View& view = session_.document().view;
    if (benchOf(view).curtain == Curtain::decoded && !renderer_.bakeProblem().isEmpty()) {
        // What is seen is the source, whatever the curtain would say.
        const QString words = renderer_.bakeProblem();
        chip(painter, {20, height() - 72.0, painter.fontMetrics().horizontalAdvance(words) + 22.0, 24}, words,
             true);
    }
    if (lookOf(view).showsJoints) {
        paintJoints(painter);
    }
    paintHandles(painter);
    paintMarks(painter);
    paintPicked(painter);
    paintTripod(painter);
    paintLegend(painter);
    if (!poser_.problem().isEmpty()) {
        const QFontMetricsF metrics(painter.font());
        const QString words = metrics.elidedText(poser_.problem(), Qt::ElideMiddle, width() - 60.0);
        chip(painter, {20, height() * 0.5 - 14, metrics.horizontalAdvance(words) + 22, 28}, words, true);
    }
}

void Stage::paintCurtain(QPainter& painter) {
    const double x = session_.document().view.curtain * width();
    painter.setPen(QPen(theme().text, hoverCurtain_ || drag_ == Drag::curtain ? 2.5 : 1.6));
    painter.drawLine(QPointF(x, kLooksHeight), QPointF(x, height())); // below the looks' buttons
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
    const bool compared = benchOf(session_.document().view).curtain == Curtain::compared;
    const QString left = compared ? tr("Frame %1").arg(session_.clipFrame(), 0, 'f', 0) : tr("Source");
    const bool faults = rehearsed() || session_.rehearsal().spoilt();
    const QString right = compared         ? tr("Frame %1").arg(session_.compared().value_or(0.0), 0, 'f', 0)
                          : restIsCulled() ? tr("With the faults: culled, its bounds are out of the picture")
                          : faults         ? tr("With the faults")
                                           : tr("Decoded from the textures");
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
    if (showsCrowd()) {
        return; // its figures are the crowd's
    }
    const glm::vec3 size = bounds_.size();
    const auto metres = [](float value) {
        return QString::fromStdString(base::lengthText(static_cast<double>(value)));
    };
    painter.setFont(textFont(11.5));
    painter.setPen(theme().quiet);
    painter.drawText(QRectF(16, 10, 420, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     (session_.survey() && session_.survey()->complete ? tr("%1 × %2 × %3 in motion")
                                                                       : tr("%1 × %2 × %3 so far"))
                         .arg(metres(size.x), metres(size.y), metres(size.z)));
    painter.drawText(QRectF(16, 28, 420, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("Grid: %1").arg(metres(gridCell())));
}

void Stage::paintPicked(QPainter& painter) {
    const int vertex = session_.pickedVertex();
    if (vertex < 0 || static_cast<std::size_t>(vertex) >= positions().size()) {
        return;
    }
    bool inFront = false;
    const QPointF at = project(sourcePosition(vertex), &inFront);
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
        tr("Vertex %1").arg(QString::fromStdString(base::countText(static_cast<std::size_t>(vertex))));
    const double wide = QFontMetricsF(painter.font()).horizontalAdvance(text) + 16;
    const QRectF plate(at.x() + 13, at.y() - 11, wide, 22);
    chip(painter, plate, text, true);
    if (lookOf(session_.document().view).drawn == Look::wire) {
        TakenPlaces places;
        places.take(plate);
        paintEdges(painter, vertex, places);
    }
}

/// The lengths of a vertex' edges, beyond their ends.
void Stage::paintEdges(QPainter& painter, int vertex, TakenPlaces& places) {
    const auto& indices = session_.source()->mesh().indices;
    const auto v = static_cast<std::uint32_t>(vertex);
    std::set<std::uint32_t> neighbours;
    for (std::size_t i = 0; i < indices.size(); ++i) {
        if (indices[i] == v) {
            neighbours.insert(indices[i - i % 3 + (i + 1) % 3]);
            neighbours.insert(indices[i - i % 3 + (i + 2) % 3]);
        }
    }
    painter.setFont(textFont(11));
    const QFontMetricsF metrics(painter.font());
    for (const std::uint32_t other : neighbours) {
        const glm::vec3 a = positions()[v];
        const glm::vec3 b = positions()[other];
        const QPointF from = project(a);
        const QPointF to = project(b);
        painter.setPen(QPen(theme().coral, 1.4));
        painter.drawLine(from, to);
        const QString length =
            QString::fromStdString(base::lengthText(static_cast<double>(glm::distance(a, b))));
        const double wide = metrics.horizontalAdvance(length) + 10;
        // Beyond the edge's end, and further out where another length stands already.
        const QPointF way = (to - from) / std::max(1e-6, std::hypot(to.x() - from.x(), to.y() - from.y()));
        const double first = std::max(46.0, std::hypot(to.x() - from.x(), to.y() - from.y()));
        const auto place = [&](double further) {
            const QPointF end = from + (first + further) * way;
            return QRectF(end.x() - wide / 2, end.y() - 9, wide, 18);
        };
        if (const auto box = places.takeFirstFree({place(0), place(14), place(28), place(42), place(56)})) {
            chip(painter, *box, length, false);
        }
    }
}

/// What a finding speaks of.
void Stage::paintMarks(QPainter& painter) {
    const auto& marks = session_.marks();
    painter.setPen(QPen(theme().deep, 1.0));
    painter.setBrush(theme().brass);
    const double radius = marks.size() > 500 ? 2.2 : marks.size() > 50 ? 3.2 : 4.5;
    for (const std::uint32_t v : marks) {
        bool inFront = false;
        const glm::vec3 p = v < positions().size() ? positions()[v] : glm::vec3(NAN);
        const QPointF at = project(p, &inFront);
        if (inFront && std::isfinite(at.x()) && std::isfinite(at.y())) {
            painter.drawEllipse(at, radius, radius);
        }
    }
}

/// A joint as a flat bar of even width from its parent, with a chevron that points to the child.
void Stage::paintBar(QPainter& painter, const QPointF& from, const QPointF& to, const QColor& tone,
                     bool strong) {
    const QPointF way = to - from;
    const double length = std::hypot(way.x(), way.y());
    if (length < 1.0) {
        return; // seen end on
    }
    const QPointF along = way / length;
    const QPointF across(-along.y(), along.x());
    const double half = std::min(strong ? 3.2 : 2.4, 0.22 * length);
    QColor body = tone;
    body.setAlphaF(strong ? 0.95f : 0.62f);
    painter.setPen(QPen(theme().deep, 1.0));
    painter.setBrush(body);
    painter.drawPolygon(
        QPolygonF{from + across * half, to + across * half, to - across * half, from - across * half});
    if (length < 14.0) {
        return; // no room for a chevron
    }
    const QPointF tip = from + along * (0.55 * length + 3.5);
    painter.setPen(QPen(theme().deep, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    painter.setBrush(Qt::NoBrush);
    const QPointF back = along * (1.8 * half + 1.0);
    painter.drawPolyline(
        QPolygonF{tip - back + across * (half + 1.5), tip, tip - back - across * (half + 1.5)});
}

void Stage::paintJoints(QPainter& painter) {
    const auto source = session_.source();
    const source::Skeleton& skeleton = source->skeleton();
    const auto& joints = poser_.pose().joints;
    const int shown = std::max(session_.shownJoint(), 0);
    for (std::size_t j = 0; j < joints.size(); ++j) {
        bool inFront = false;
        const QPointF at = project(joints[j], &inFront);
        if (!inFront) {
            continue;
        }
        if (const int parent = skeleton.parents[j]; parent >= 0) {
            paintBar(painter, project(joints[static_cast<std::size_t>(parent)]), at,
                     parent == shown ? theme().coral : theme().text, parent == shown);
        }
    }
    for (std::size_t j = 0; j < joints.size(); ++j) {
        bool inFront = false;
        const QPointF at = project(joints[j], &inFront);
        const bool chosen = static_cast<int>(j) == shown;
        if (inFront) { // a notch across: a leaf joint has no bar of its own
            const double half = chosen ? 5.0 : 2.5;
            painter.setPen(QPen(theme().deep, 1.0));
            painter.setBrush(chosen ? theme().coral : theme().text);
            painter.drawRect(QRectF(at.x() - half, at.y() - half, 2 * half, 2 * half));
        }
    }
}

/// What the look measures, with its scale.
void Stage::paintLegend(QPainter& painter) {
    if (shades_.title.isEmpty()) {
        return;
    }
    painter.setFont(textFont(11.5));
    const QFontMetricsF metrics(painter.font());
    const bool scale = !shades_.least.isEmpty();
    const double wide = std::max(metrics.horizontalAdvance(shades_.title) + 4, scale ? 170.0 : 0.0);
    const QRectF box(width() - wide - 34, height() - (scale ? 70 : 44), wide + 22, scale ? 56 : 30);
    QColor ground = theme().deep;
    ground.setAlphaF(0.80f);
    painter.setPen(Qt::NoPen);
    painter.setBrush(ground);
    painter.drawRoundedRect(box, 6, 6);
    painter.setPen(theme().text);
    painter.drawText(box.adjusted(11, 5, -11, 0), Qt::AlignLeft | Qt::AlignTop, shades_.title);
    if (!scale) {
        return;
    }
    const QRectF bar(box.left() + 11, box.top() + 24, box.width() - 22, 8);
    QLinearGradient gradient(bar.topLeft(), bar.topRight());
    for (int i = 0; i <= 16; ++i) {
        gradient.setColorAt(i / 16.0, shades_.grey ? QColor::fromRgbF(i / 16.0f, i / 16.0f, i / 16.0f)
                                                   : rampColour(i / 16.0));
    }
    painter.setPen(Qt::NoPen);
    painter.setBrush(gradient);
    painter.drawRoundedRect(bar, 2, 2);
    painter.setPen(theme().quiet);
    const QRectF words(bar.left(), bar.bottom() + 1, bar.width(), 16);
    painter.drawText(words, Qt::AlignLeft | Qt::AlignVCenter, shades_.least);
    painter.drawText(words, Qt::AlignRight | Qt::AlignVCenter, shades_.most);
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
