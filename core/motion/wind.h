#pragma once

#include "motion/score.h"

#include <optional>

#include <glm/vec3.hpp>

namespace ripple::motion {

/// The way that the wind of a score blows over the world: that of the first voice that is heard and follows a
/// direction of the world, level, of unit length, turned by Overall::heading. None where no voice does.
std::optional<glm::vec3> windWay(const Score& score);

/// Gusts that run from copy to copy, of the first voice whose phase comes from where copies stand.
struct Gust {
    glm::vec3 way{1.0f, 0.0f, 0.0f}; ///< of unit length
    double wavelength = 10.0;        ///< metres from front to front
    double turns = 1.0;              ///< fronts that pass a place in a loop
    double phase = 0.0;              ///< turns
};
std::optional<Gust> gustOf(const Score& score);

} // namespace ripple::motion
