#pragma once

#include "source/frame_source.h"
#include "source/reading.h"

#include <memory>

namespace ripple::source {

/// The source as `reading` wants it: unit and up axis, time (rate, range, speed, direction), mended faults.
/// The source itself where nothing is to be done. Throws base::Failure for a range outside the sequence and
/// for mending that leaves nothing.
std::shared_ptr<const FrameSource> adjust(std::shared_ptr<const FrameSource> source, const Reading& reading);

/// The source with every triangle split into four, `times` over. New vertices lie in the middle of their
/// edge's ends in every frame: for sequences and caches, which know of nothing beside positions.
std::shared_ptr<const FrameSource> subdivideFrames(std::shared_ptr<const FrameSource> source,
                                                   std::size_t times);

} // namespace ripple::source
