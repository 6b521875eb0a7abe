#pragma once

#include "bake/texture_set.h"

#include <span>
#include <vector>

namespace ripple::bundle {

/// A moment of a clip.
struct Instant {
    std::size_t clip = 0;
    float frame = 0.0f; ///< of the clip, fractional
};

/// Thirteen of each clip, evenly apart: stored frames and ones between; of closed clips the last is half way
/// over the seam.
std::vector<Instant> someInstants(std::span<const bake::BakedClip> clips);

} // namespace ripple::bundle
