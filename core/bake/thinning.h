#pragma once

#include "bake/sampling.h"

namespace ripple::bake {

/// The fewest frames, found from the first onward, between which linear blending misses no vertex of the
/// others by more than `tolerance` metres (at the frames that the plan keeps). Each stretch is as long as it
/// can be, up to kLongestStretch frames; in a closed clip the last stretch leads back to frame 0, in an open
/// one the last frame is kept. Ascending, beginning with 0.
std::vector<std::uint32_t> framesToKeep(const source::FrameSource& source, const ClipPlan& plan,
                                        double tolerance, const base::Progress& progress = {});

/// Bounds the poses held at a time, and the time spent on a stretch in which nothing moves.
constexpr std::size_t kLongestStretch = 64;

} // namespace ripple::bake
