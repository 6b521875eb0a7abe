#pragma once

// Positions and normals of one pose against another's; whole reports: compare_poses.h.

#include "mesh/bounds.h"

#include <cstddef>
#include <span>

#include <glm/vec3.hpp>

namespace ripple::bake {

struct PositionsOff {
    double sumSquares = 0.0;
    float max = 0.0f; ///< metres
    std::size_t worst = 0;
    mesh::Bounds bounds;     ///< of the truth
    mesh::Bounds readBounds; ///< of what was read
};
/// `squares` gets the squared distance of each vertex, infinite where a pose is not finite.
PositionsOff comparePositions(std::span<const glm::vec3> truth, std::span<const glm::vec3> read,
                              std::span<float> squares);

struct NormalsOff {
    double sumSquares = 0.0;
    float max = 0.0f;          ///< radians
    std::size_t undefined = 0; ///< where the truth has no direction: not compared
};
/// Unit vectors, the truth also zero vectors.
NormalsOff compareNormals(std::span<const glm::vec3> truth, std::span<const glm::vec3> read);

/// 99 of 100 of the numbers in `parts` are no larger; they must not be below 0. Exact.
double percentile99(std::span<const std::span<const float>> parts);

} // namespace ripple::bake
