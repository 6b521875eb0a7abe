#pragma once

#include "demo/heron_skeleton.h"

#include <span>

namespace ripple::demo {

struct HeronClip {
    const char* name;
    float seconds;
    Posture (*at)(float seconds);
};

/// stroll ends as it began; peck and preen do not.
std::span<const HeronClip> heronClips();

} // namespace ripple::demo
