#pragma once

#include <cstddef>
#include <vector>

#include <glm/gtc/quaternion.hpp>
#include <glm/vec3.hpp>

namespace ripple::demo {

/// One stiff box.
struct RigidBox {
    glm::dvec3 half{0.3};  ///< metres from the middle to each side
    double mass = 20.0;    ///< kilograms, spread evenly
    glm::dvec3 place{0.0}; ///< of the middle
    glm::dquat turn{1, 0, 0, 0};
    glm::dvec3 velocity{0.0}; ///< metres a second
    glm::dvec3 spin{0.0};     ///< radians a second, in the world
};

/// Boxes that fall, knock and slide on each other and on the ground y = 0. Contacts are stiff springs with
/// damping and dry friction at points of each box's surface (penalty method); steps are short enough for
/// them. The same numbers on every run.
class RigidBoxes {
public:
    explicit RigidBoxes(std::vector<RigidBox> boxes);
    void advance(double seconds);
    const std::vector<RigidBox>& boxes() const { return boxes_; }

private:
    struct Push {
        glm::dvec3 force{0.0};
        glm::dvec3 torque{0.0};
    };
    void step(double dt);
    void touchGround(std::size_t box);
    void touchBox(std::size_t box, std::size_t other);
    /// A point of `box` that lies `depth` deep in something with the outward `normal`; `other` is pushed the
    /// other way, unless it is the ground (no index).
    void press(std::size_t box, std::size_t other, const glm::dvec3& point, const glm::dvec3& normal,
               double depth);

    std::vector<RigidBox> boxes_;
    std::vector<Push> pushes_;
};

} // namespace ripple::demo
