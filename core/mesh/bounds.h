#pragma once

#include <limits>
#include <span>

#include <glm/common.hpp>
#include <glm/geometric.hpp>
#include <glm/vec3.hpp>

namespace ripple::mesh {

/// Axis-aligned box. Starts empty (min > max).
struct Bounds {
    glm::vec3 min{std::numeric_limits<float>::infinity()};
    glm::vec3 max{-std::numeric_limits<float>::infinity()};

    bool empty() const { return min.x > max.x; }
    glm::vec3 size() const { return empty() ? glm::vec3(0.0f) : max - min; }
    glm::vec3 centre() const { return empty() ? glm::vec3(0.0f) : 0.5f * (min + max); }
    float diagonal() const { return glm::length(size()); }

    void add(glm::vec3 point) {
        min = glm::min(min, point);
        max = glm::max(max, point);
    }
    void add(const Bounds& other) {
        min = glm::min(min, other.min);
        max = glm::max(max, other.max);
    }
    void add(std::span<const glm::vec3> points);
    bool operator==(const Bounds&) const = default;
};

} // namespace ripple::mesh
