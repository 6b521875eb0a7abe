// The stage by mouse: turning, picking, dragging the curtain and handles.

#include "app/stage/stage.h"

#include <QMouseEvent>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>
#include <limits>

namespace ripple::app {

namespace {

constexpr double kCurtainGrip = 10.0; // pixels beside the curtain that still take hold of it

} // namespace

bool Stage::overCurtain(const QPointF& at) const {
    return curtainShown() && std::abs(at.x() - curtainHandle().x()) <= kCurtainGrip;
}

int Stage::jointAt(const QPointF& at) const {
    constexpr double kReach = 12.0; // pixels
    int best = -1;
    double nearest = kReach;
    const auto& joints = poser_.pose().joints;
    for (std::size_t j = 0; j < joints.size(); ++j) {
        bool inFront = false;
        const QPointF seen = project(joints[j], &inFront);
        const double away = std::hypot(seen.x() - at.x(), seen.y() - at.y());
        if (inFront && away < nearest) {
            best = static_cast<int>(j);
            nearest = away;
        }
    }
    return best;
}

int Stage::vertexAt(const QPointF& at) const {
    constexpr double kReach = 14.0; // pixels
    int best = -1;
    double bestScore = std::numeric_limits<double>::max();
    for (std::size_t v = 0; v < positions().size(); ++v) {
        const glm::vec4 clip = viewProjection_ * glm::vec4(positions()[v], 1.0f);
        if (clip.w <= 0.0f) {
            continue;
        }
        const QPointF seen((clip.x / clip.w * 0.5f + 0.5f) * static_cast<float>(width()),
                           (0.5f - clip.y / clip.w * 0.5f) * static_cast<float>(height()));
        const double away = std::hypot(seen.x() - at.x(), seen.y() - at.y());
        // Nearer the eye wins over nearer the pointer: what is behind can't be meant.
        const double score = away + static_cast<double>(clip.w / camera_.distance()) * 40.0;
        if (away < kReach && score < bestScore) {
            best = static_cast<int>(v);
            bestScore = score;
        }
    }
    return best;
}

void Stage::mousePressEvent(QMouseEvent* event) {
    last_ = event->position();
    moved_ = false;
    const QString handle = handleUnder(last_);
    if (event->button() == Qt::LeftButton && overCurtain(last_)) {
        drag_ = Drag::curtain;
    } else if (event->button() == Qt::LeftButton && !handle.isEmpty()) {
        drag_ = Drag::handle;
        heldHandle_ = handle;
        heldOff_ = handlePlace(handle) - last_;
        handleGesture_ = session_.newGesture();
        hoverVertex_ = -1;
        setCursor(Qt::ClosedHandCursor);
        update();
    } else if (event->button() == Qt::LeftButton && overBall(last_)) {
        drag_ = Drag::ball;
        setCursor(Qt::ClosedHandCursor);
    } else if (event->button() == Qt::LeftButton && overWind(last_)) {
        drag_ = Drag::wind;
        handleGesture_ = session_.newGesture();
        setCursor(Qt::ClosedHandCursor);
    } else if (event->button() == Qt::MiddleButton ||
               (event->button() == Qt::LeftButton && (event->modifiers() & Qt::ShiftModifier))) {
        drag_ = Drag::pan;
    } else if (event->button() == Qt::LeftButton) {
        drag_ = Drag::orbit;
    }
}

void Stage::mouseMoveEvent(QMouseEvent* event) {
    const QPointF at = event->position();
    const QPointF way = at - last_;
    last_ = at;
    moved_ = moved_ || std::abs(way.x()) + std::abs(way.y()) > 1.0;
    switch (drag_) {
    case Drag::none: {
        const bool over = overCurtain(at);
        if (over != hoverCurtain_) {
            hoverCurtain_ = over;
            setCursor(over ? Qt::SplitHCursor : Qt::ArrowCursor);
            update();
        }
        if (crowdCamera_) {
            setCursor(overBall(at) || overWind(at) ? Qt::OpenHandCursor : Qt::ArrowCursor);
            return;
        }
        hover(at);
        return;
    }
    case Drag::handle:
        if (moved_) {
            dragHandle(at + heldOff_);
        }
        break;
    case Drag::ball:
        dragBall(at);
        break;
    case Drag::wind:
        dragWind(at);
        break;
    case Drag::orbit:
        touched_ = true;
        camera_.orbit(static_cast<float>(way.x()) * 0.008f, static_cast<float>(way.y()) * 0.008f);
        break;
    case Drag::pan:
        camera_.pan({static_cast<float>(way.x()), static_cast<float>(way.y())}, static_cast<float>(height()));
        break;
    case Drag::curtain:
        session_.look(
            [&](project::View& view) { view.curtain = std::clamp(at.x() / std::max(width(), 1), 0.0, 1.0); });
        break;
    }
    update();
}

void Stage::mouseReleaseEvent(QMouseEvent* event) {
    if (drag_ == Drag::ball || drag_ == Drag::wind) {
        unsetCursor();
    }
    if (drag_ == Drag::orbit && !moved_ && event->button() == Qt::LeftButton && !crowdCamera_) {
        const int joint = lookOf(session_.document().view).showsJoints ? jointAt(event->position()) : -1;
        if (joint >= 0) {
            session_.showJoint(joint);
        } else {
            ensurePose();
            session_.pickVertex(vertexAt(event->position()));
        }
    }
    if (drag_ == Drag::handle) {
        heldHandle_.clear();
        setCursor(Qt::OpenHandCursor);
    }
    drag_ = Drag::none;
    update();
}

void Stage::mouseDoubleClickEvent(QMouseEvent*) {
    frameModel(true);
}

void Stage::wheelEvent(QWheelEvent* event) {
    touched_ = true;
    camera_.zoom(std::pow(0.9985f, static_cast<float>(event->angleDelta().y())));
    update();
    event->accept();
}

void Stage::leaveEvent(QEvent*) {
    hoverCurtain_ = false;
    hoverHandle_.clear();
    hoverVertex_ = -1;
    unsetCursor();
    update();
}

} // namespace ripple::app
