#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::mesh {

/// Cuts one polygon into corners.size() − 2 triangles by ear clipping (Meisters, "Polygons have ears", 1975),
/// each given as three places in `corners`. Convex ones become fans from their first corner; concave ones
/// keep to their inside, as seen along their area normal. Polygons that are no simple outline still give that
/// many triangles.
std::vector<std::array<std::uint32_t, 3>> triangulate(std::span<const glm::vec3> corners);

} // namespace ripple::mesh
