// What is taken hold of on the model: the handles of the chosen voice, and values under the pointer.

#include "app/session/score_edits.h"
#include "app/look/theme.h"
#include "app/stage/stage.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>
#include <glm/matrix.hpp>

namespace ripple::app {

namespace {

constexpr double kHandleGrip = 9.0; // pixels about a handle that still take hold of it

} // namespace

std::vector<ScoreHandle> Stage::handles() const {
    const motion::Voice* voice = chosenVoice(session_);
    const auto performance = session_.performance();
    // Handles would run along with what plays; it is looked at then.
    if (!benchOf(session_.document().view).voices || session_.playhead().playing() || !voice ||
        !performance) {
        return {};
    }
    return scoreHandles(*voice, restBounds_, performance->model().size);
}

QPointF Stage::handlePlace(const QString& name) const {
    for (const ScoreHandle& handle : handles()) {
        if (handle.name == name) {
            return project(handle.at);
        }
    }
    return {};
}

QString Stage::handleUnder(const QPointF& at) const {
    QString best;
    double nearest = kHandleGrip;
    for (const ScoreHandle& handle : handles()) {
        bool inFront = false;
        const QPointF seen = project(handle.at, &inFront);
        const double away = std::hypot(seen.x() - at.x(), seen.y() - at.y());
        if (inFront && away < nearest) {
            nearest = away;
            best = handle.name;
        }
    }
    return best;
}

Ray Stage::sight(const QPointF& at) const {
    const glm::mat4 back = glm::inverse(viewProjection_);
    const auto x = static_cast<float>(2.0 * at.x() / std::max(width(), 1) - 1.0);
    const auto y = static_cast<float>(1.0 - 2.0 * at.y() / std::max(height(), 1));
    const glm::vec4 far = back * glm::vec4(x, y, 0.5f, 1.0f);
    const glm::vec3 eye = camera_.eye();
    return {eye, glm::normalize(glm::vec3(far) / far.w - eye)};
}

void Stage::dragHandle(const QPointF& at) {
    const motion::Voice* voice = chosenVoice(session_);
    if (!voice) {
        return;
    }
    for (const ScoreHandle& handle : handles()) {
        if (handle.name == heldHandle_) {
            const glm::vec3 to =
                draggedTo(handle, sight(at), glm::normalize(camera_.target() - camera_.eye()));
            editVoice(
                session_, voice->id, tr("%1: drag on the model").arg(QString::fromStdString(voice->name)),
                [&](motion::Voice& v) { handle.move(v, to); }, handleGesture_);
            return;
        }
    }
}

void Stage::hover(const QPointF& at) {
    const QString handle = handleUnder(at);
    const bool probes = benchOf(session_.document().view).voices && !shades_.values.empty();
    int vertex = -1;
    if (probes && handle.isEmpty()) {
        ensurePose();
        vertex = vertexAt(at);
    }
    if (handle != hoverHandle_ || vertex != hoverVertex_) {
        hoverHandle_ = handle;
        hoverVertex_ = vertex;
        setCursor(handle.isEmpty() ? Qt::ArrowCursor : Qt::OpenHandCursor);
        update();
    }
}

void Stage::paintPlane(QPainter& painter, const ScoreHandle& handle) const {
    const glm::vec3 u = glm::normalize(
        glm::cross(handle.way, std::abs(handle.way.y) < 0.9f ? glm::vec3(0, 1, 0) : glm::vec3(1, 0, 0)));
    const glm::vec3 v = glm::cross(handle.way, u);
    const glm::vec3 half = 0.54f * restBounds_.size();
    const float across = std::max(glm::dot(glm::abs(u), half), 0.04f * restBounds_.diagonal());
    const float along = std::max(glm::dot(glm::abs(v), half), 0.04f * restBounds_.diagonal());
    QPolygonF outline;
    for (const auto& [x, y] : {std::pair(-1.0f, -1.0f), {1.0f, -1.0f}, {1.0f, 1.0f}, {-1.0f, 1.0f}}) {
        bool inFront = false;
        outline << project(handle.at + x * across * u + y * along * v, &inFront);
        if (!inFront) {
            return;
        }
    }
    painter.drawPolygon(outline);
}

void Stage::paintRing(QPainter& painter, const ScoreHandle& handle) const {
    const float radius = glm::distance(handle.at, handle.origin);
    const glm::vec3 other = glm::cross(handle.axis, handle.way);
    QPolygonF ring;
    constexpr int kCorners = 72;
    for (int i = 0; i <= kCorners; ++i) {
        const auto angle = static_cast<float>(2.0 * M_PI * i / kCorners);
        ring << project(handle.origin + radius * (std::cos(angle) * handle.way + std::sin(angle) * other));
    }
    painter.setBrush(Qt::NoBrush);
    painter.drawPolyline(ring);
}

void Stage::paintWaves(QPainter& painter, const ScoreHandle& handle) const {
    // Crests over the length of the model, square to the way the wave runs.
    const float wave = glm::distance(handle.at, handle.origin);
    const float reach = 0.5f * glm::dot(glm::abs(handle.way), restBounds_.size());
    const auto waves = static_cast<int>(std::clamp(std::ceil(reach / std::max(wave, 1e-6f)), 1.0f, 12.0f));
    const QPointF first = project(handle.origin - static_cast<float>(waves) * wave * handle.way);
    const QPointF last = project(handle.origin + static_cast<float>(waves) * wave * handle.way);
    painter.drawLine(first, last);
    const QPointF way = last - first;
    const double length = std::max(std::hypot(way.x(), way.y()), 1e-6);
    const QPointF tick = QPointF(-way.y(), way.x()) / length * 7.0;
    for (int i = -waves; i <= waves; ++i) {
        const QPointF at = project(handle.origin + static_cast<float>(i) * wave * handle.way);
        painter.drawLine(at - tick, at + tick);
    }
}

void Stage::paintHandles(QPainter& painter) {
    const motion::Voice* voice = chosenVoice(session_);
    if (!voice) {
        return;
    }
    const QColor colour = voiceColour(voiceIndex(session_.document().score, voice->id));
    std::vector<ScoreHandle> seen = handles();
    std::erase_if(seen, [this](const ScoreHandle& handle) {
        bool inFront = false;
        project(handle.at, &inFront);
        return !inFront;
    });
    for (const ScoreHandle& handle : seen) {
        paintMark(painter, handle, colour);
    }
    paintCaptions(painter, seen);
    // Last, so that no caption lies over what is to be taken hold of.
    for (const ScoreHandle& handle : seen) {
        paintGrip(painter, handle, colour);
    }
    paintHandleWords(painter, seen);
}

bool Stage::isTouched(const ScoreHandle& handle) const {
    return handle.name == heldHandle_ || (heldHandle_.isEmpty() && handle.name == hoverHandle_);
}

void Stage::paintMark(QPainter& painter, const ScoreHandle& handle, const QColor& colour) {
    const bool here = isTouched(handle);
    QColor veil = colour;
    veil.setAlphaF(here ? 0.20f : 0.09f);
    painter.setPen(QPen(colour, here ? 2.2 : 1.4, handle.faint ? Qt::DashLine : Qt::SolidLine, Qt::RoundCap));
    painter.setBrush(veil);
    switch (handle.mark) {
    case ScoreHandle::Mark::plane:
        paintPlane(painter, handle);
        break;
    case ScoreHandle::Mark::ring:
        paintRing(painter, handle);
        break;
    case ScoreHandle::Mark::waves:
        paintWaves(painter, handle);
        break;
    case ScoreHandle::Mark::arrow:
        painter.drawLine(project(handle.origin), project(handle.at));
        break;
    case ScoreHandle::Mark::dot:
        break;
    }
}

void Stage::paintGrip(QPainter& painter, const ScoreHandle& handle, const QColor& colour) {
    const QPointF at = project(handle.at);
    painter.setPen(QPen(theme().deep, 1.6));
    painter.setBrush(handle.faint ? theme().deep : colour);
    const double radius = isTouched(handle) ? 7.0 : 5.5;
    if (handle.grip == ScoreHandle::Grip::turn) {
        painter.drawPolygon(QPolygonF{at + QPointF(0, -radius - 1), at + QPointF(radius + 1, 0),
                                      at + QPointF(0, radius + 1), at + QPointF(-radius - 1, 0)});
    } else {
        painter.drawEllipse(at, radius, radius);
    }
    if (handle.faint) {
        painter.setPen(QPen(colour, 1.6));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(at, radius - 1.5, radius - 1.5);
    }
}

void Stage::paintCaptions(QPainter& painter, std::span<const ScoreHandle> seen) {
    painter.setFont(textFont(11));
    const QFontMetricsF small(painter.font());
    TakenPlaces places;
    for (const ScoreHandle& handle : seen) {
        const QPointF at = project(handle.at);
        places.take({at.x() - 7, at.y() - 7, 14, 14});
    }
    for (const ScoreHandle& handle : seen) {
        const QPointF at = project(handle.at);
        const QSizeF size(small.horizontalAdvance(handle.caption) + 8, 18);
        const auto place = [&](double x, double y) { return QRectF(at + QPointF(x, y), size); };
        // Below on the right, or wherever else there is room; without any the pointer tells what it is.
        const auto box = places.takeFirstFree({place(8, 2), place(8, -20), place(-8 - size.width(), 2),
                                               place(-8 - size.width(), -20), place(10, -9)});
        if (!box) {
            continue;
        }
        // On a plate: the model behind may be as light or as dark as the words.
        QColor plate = theme().deep;
        plate.setAlphaF(0.72f);
        painter.setPen(Qt::NoPen);
        painter.setBrush(plate);
        painter.drawRoundedRect(*box, 4, 4);
        painter.setPen(theme().text);
        painter.drawText(*box, Qt::AlignCenter, handle.caption);
    }
}

void Stage::paintHandleWords(QPainter& painter, std::span<const ScoreHandle> seen) {
    painter.setFont(textFont(12));
    const QFontMetricsF metrics(painter.font());
    const auto note = [&](const QPointF& at, const QString& words) {
        const double wide = metrics.horizontalAdvance(words) + 18;
        const double x = std::clamp(at.x() + 14, 6.0, std::max(6.0, width() - wide - 6.0));
        paintChip(painter, {x, at.y() - 30, wide, 23}, words);
    };
    for (const ScoreHandle& handle : seen) {
        if (isTouched(handle)) {
            note(project(handle.at), handle.words);
            return;
        }
    }
    const auto vertex = static_cast<std::size_t>(hoverVertex_);
    if (hoverVertex_ >= 0 && vertex < shades_.values.size() && hoverVertex_ != session_.pickedVertex()) {
        const QPointF at = project(sourcePosition(hoverVertex_));
        painter.setPen(QPen(theme().deep, 1.2));
        painter.setBrush(theme().text);
        painter.drawEllipse(at, 3.5, 3.5);
        note(at, QString::number(static_cast<double>(shades_.values[vertex]), 'f', 3));
    }
}

} // namespace ripple::app
