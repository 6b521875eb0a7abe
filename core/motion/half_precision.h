#pragma once

#include "bake/error.h"
#include "base/no_progress.h"
#include "motion/perform.h"

namespace ripple::motion {

/// The same composition with all that bears it rounded to 16-bit floats: masks, shapes, and what normals
/// alone are made of. Positions, places in the loop and what they are added up from stay as they are.
Composition inHalfPrecision(const Composition& composition);

/// The same performance of it.
std::shared_ptr<const Performance> inHalfPrecision(const Performance& performance);

/// What that loses, at 24 instants of the loop, of one copy without turn or scale. Infinite where a position
/// or a normal is no number any more.
bake::ErrorReport halfLoss(const Performance& performance,
                           const base::Progress& progress = base::noProgress());

/// The largest differences of two performances of one score, at so many instants spread over the loop.
bake::ErrorReport comparePerformances(const Performance& truth, const Performance& other, int instants,
                                      const base::Progress& progress = base::noProgress());

} // namespace ripple::motion
