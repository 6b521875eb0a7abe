#pragma once

#include "base/no_progress.h"
#include "motion/perform.h"

namespace ripple::motion {

/// The same composition with all that bears it rounded to 16-bit floats: masks, shapes, and what normals
/// alone are made of. Positions, places in the loop and what they are added up from stay as they are.
Composition inHalfPrecision(const Composition& composition);

/// What that loses, over the loop.
struct HalfLoss {
    double metres = 0.0;        ///< the largest distance of a vertex
    double normalDegrees = 0.0; ///< the largest angle of a normal
};
/// Measured at 24 instants, of one copy without turn or scale.
HalfLoss halfLoss(const Performance& exact, const Performance& half,
                  const base::Progress& progress = base::noProgress());

} // namespace ripple::motion
