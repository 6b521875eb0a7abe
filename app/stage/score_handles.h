#pragma once

#include "mesh/bounds.h"
#include "motion/score.h"

#include <QString>

#include <functional>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::app {

/// Something of a voice that is taken hold of on the model itself.
struct ScoreHandle {
    enum class Grip {
        along, ///< slides on the line from `origin` along `way`
        turn,  ///< goes round `origin` at the same distance: a direction
        free,  ///< moves in the plane of the screen: a point
    };
    enum class Mark {
        dot,
        plane, ///< and an outline of the plane through it, square to `way`
        ring,  ///< and a circle about `origin`, through it, square to `axis`
        arrow, ///< and a line from `origin`
        waves, ///< and a line with a tick at each such length
    };
    QString name; ///< "high 0"
    Grip grip = Grip::free;
    Mark mark = Mark::dot;
    glm::vec3 at{0.0f};     ///< metres
    glm::vec3 origin{0.0f}; ///< metres
    glm::vec3 way{0.0f};    ///< of unit length
    glm::vec3 axis{0.0f};   ///< of ring: of unit length
    QString caption;        ///< "free at"
    QString words;          ///< "free at 12 mm"
    bool faint = false;     ///< the end where nothing moves
    /// Changes the voice for the handle at a new place.
    std::function<void(motion::Voice&, const glm::vec3& at)> move;
};

/// Those of one voice on a model whose rest pose fills `rest`: where it is held, its pivots and points, the
/// way it pushes, the way its wave runs and how long that is. `size` is what percents are of (motion::Model).
std::vector<ScoreHandle> scoreHandles(const motion::Voice& voice, const mesh::Bounds& rest, double size);

/// A line of sight.
struct Ray {
    glm::vec3 from{0.0f};
    glm::vec3 way{0.0f}; ///< of unit length
};

/// Where a handle goes when the pointer looks along `ray`. Directions snap to the axes within a few degrees.
glm::vec3 draggedTo(const ScoreHandle& handle, const Ray& ray, const glm::vec3& screenNormal);

} // namespace ripple::app
