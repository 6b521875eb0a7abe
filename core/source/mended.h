#pragma once

#include "source/frame_source.h"
#include "source/reading.h"

#include <memory>

namespace ripple::source {

/// The source without the faults that `mending` names (those that need no reader): triangles, vertices, UVs,
/// strays. The source itself where nothing is to be done. Merging takes only vertices that also move alike at
/// eight instants of every clip.
std::shared_ptr<const FrameSource> mend(std::shared_ptr<const FrameSource> source, const Mending& mending);

} // namespace ripple::source
