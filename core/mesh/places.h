#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::mesh {

/// Of each point the number of its place, which all that lie there share to the bit; places are counted in
/// the order in which they first come.
std::vector<std::uint32_t> placesOf(std::span<const glm::vec3> points);

/// Of each point the first that lies in its place.
std::vector<std::uint32_t> firstInPlace(std::span<const glm::vec3> points);

} // namespace ripple::mesh
