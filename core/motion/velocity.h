#pragma once

#include "motion/compose_score.h"

namespace ripple::motion {

/// Adds to the graph how fast a vertex moves: the derivative of its displaced position by the turn of the
/// loop, exact, in forward mode. Gives the node: vec3, metres a turn in object space; over the loop's seconds
/// it is metres a second. Where a voice has a kink (a triangle wave, say) it is the speed on one side.
NodeId addVelocity(Composition& composition);

} // namespace ripple::motion
