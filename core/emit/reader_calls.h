#pragma once

#include "bake/reading_code.h"

namespace ripple::emit {

// The parts of reading code that are the same for all kinds of bake. `uneven`: stored frames lie at uneven
// times.

/// NAME_frames_at: the stored frames that show a frame of a clip.
void addFramesAt(bake::ReadingCode& reading, bool uneven);

/// What is called from outside, by frame, turn and seconds: the pose, the velocity, and both of a cross-fade
/// of two clips.
void addCalls(bake::ReadingCode& reading, bool uneven);

} // namespace ripple::emit
