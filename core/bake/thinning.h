#pragma once

#include "bake/sampling.h"
#include "base/no_progress.h"

namespace ripple::bake {

/// Which instants of a clip are kept so that linear blending stays within a tolerance.
struct Thinning {
    std::size_t perFrame = 1;        ///< instants from one frame of the plan to the next: 1, 2, 4 or 8
    std::vector<std::uint32_t> kept; ///< counted in those, ascending from 0
    /// metres: what blending misses where even eight instants a frame do not hold the tolerance; else 0
    double beyond = 0.0;
};

/// The fewest instants, found from the first onward, between which linear blending misses no vertex by more
/// than `tolerance` metres, at the frames of the plan and, where the clip may be asked at any time, between
/// them. A stretch is as long as it can be, up to kLongestStretch; where a frame's step is too long to be
/// straight it is cut into 2, 4 or 8. In a closed clip the last stretch leads back to frame 0, in an open one
/// the last frame is kept. `plan` keeps every frame.
///
/// Between the looked-at instants of a step (its quarters) the motion is taken to be as smooth as at them. A
/// step that is straight to within d, blended from ends that are off by e, is off by at most d + e: a stretch
/// is accepted while e at its instants is at most `tolerance` − d, and d is kept below a quarter of it.
Thinning framesToKeep(const source::FrameSource& source, const ClipPlan& plan, bool anyTime, double tolerance,
                      const base::Progress& progress = base::noProgress());

/// Leaves only these instants of a plan that keeps every frame. Its error is measured at the frames left out
/// and, where the clip may be asked at any time, in the middle between those and the kept ones.
void keepOnly(ClipPlan& plan, const Thinning& thinning, bool anyTime);

/// Bounds the poses held at a time, and the time spent on a stretch in which nothing moves.
constexpr std::size_t kLongestStretch = 64;

} // namespace ripple::bake
