#pragma once

#include "mesh/bounds.h"

#include <glm/mat4x4.hpp>
#include <glm/vec2.hpp>
#include <glm/vec3.hpp>

namespace ripple::app {

/// A camera that turns about a point. Angles in radians, lengths in metres.
class Camera {
public:
    /// Looks at the whole of `bounds` from a three-quarter view, keeping the present direction if
    /// `keepDirection`.
    void frame(const mesh::Bounds& bounds, float aspect, bool keepDirection);
    /// Looks over a field of copies from a little above their heads.
    void lookAcross(const mesh::Bounds& field);
    float fieldOfView() const; ///< radians, from bottom to top
    void orbit(float right, float up);
    /// Moves along the screen; `pixels` of a view `height` pixels high.
    void pan(glm::vec2 pixels, float height);
    void zoom(float factor);

    glm::vec3 eye() const;
    glm::vec3 target() const { return target_; }
    float distance() const { return distance_; }
    glm::mat4 view() const;
    glm::mat4 projection(float aspect) const;

private:
    glm::vec3 back() const; ///< from the target to the eye, unit

    glm::vec3 target_{0.0f, 0.5f, 0.0f};
    float distance_ = 4.0f;
    float turn_ = 0.62f; ///< about +Y from +Z
    float lift_ = 0.30f; ///< above the horizon
    float size_ = 1.0f;  ///< of what was framed
};

} // namespace ripple::app
