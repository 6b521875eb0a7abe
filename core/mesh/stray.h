#pragma once

#include "mesh/bounds.h"

#include <cstdint>
#include <span>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::mesh {

/// Finds vertices that cannot be meant: not finite, or so far from all others that the model would be a dot
/// beside the distance.
class StrayTest {
public:
    /// A vertex is far when it lies more than kFar times the extent of the middle 98 % away from them.
    static constexpr float kFar = 20.0f;

    /// `typical`: the extent in metres of a good pose; a pose within kFar times it is not looked at closely.
    explicit StrayTest(float typical) : typical_(typical) {}
    /// From a pose that may have strays of its own.
    static StrayTest ofPose(std::span<const glm::vec3> positions);

    /// Indices of strays in one pose, ascending.
    std::vector<std::uint32_t> find(std::span<const glm::vec3> positions) const;

private:
    float typical_;
};

} // namespace ripple::mesh
