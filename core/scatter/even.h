#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::scatter {

/// `count` places in a box of that size (a flat one has height 0), random and yet evenly apart, the same for
/// a seed on every machine: of four times as many random places those are taken out, one by one, that have
/// the most others near them (Yuksel, "Sample Elimination for Generating Poisson Disk Sample Sets", 2015). In
/// −½ … ½ of the size.
std::vector<glm::vec3> spreadEvenly(std::size_t count, const glm::vec3& size, std::uint32_t seed);

} // namespace ripple::scatter
