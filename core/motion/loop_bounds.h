#pragma once

#include "base/no_progress.h"
#include "mesh/bounds.h"

#include <array>

namespace ripple::motion {

class Performance;

/// From the smallest to the largest copy: factors, above 0. Smaller copies reach further in their own space,
/// since a push along the world is metres of the world.
using CopySizes = std::array<float, 2>;
constexpr CopySizes kUsualCopySizes = {0.5f, 2.0f};

/// Boxes in a copy's own space, metres, for any id and any place within 1 000 km.
struct LoopBounds {
    mesh::Bounds every;    ///< of copies turned in any way, of the sizes that were asked for
    mesh::Bounds unturned; ///< of those that are neither turned nor scaled; the same where that is no matter
};

/// Holds every place that a vertex goes to in the loop (interval arithmetic over slices of the turn: never
/// too small, a little too large), for all values of the parameters.
LoopBounds boundsOfLoop(const Performance& performance, const CopySizes& sizes = kUsualCopySizes,
                        const base::Progress& progress = base::noProgress());

} // namespace ripple::motion
