#pragma once

#include "mesh/test_shapes.h"
#include "source/reading.h"

#include <memory>

namespace ripple::source {

/// A test shape as a source of one still pose.
std::shared_ptr<const FrameSource> openTestShape(const mesh::TestShape& shape, const Reading& reading = {});

} // namespace ripple::source
