#pragma once

#include "base/progress.h"
#include "source/frame_source.h"

#include <filesystem>
#include <memory>

namespace ripple::source {

struct OpenOptions;

/// Numbered OBJ files as one clip. The first frame gives the topology; a frame with other counts or faces is
/// a failure that names it. Frames whose files give normals use them; else they are made from the triangles.
std::shared_ptr<const FrameSource> openObjSequence(const std::filesystem::path& path,
                                                   const OpenOptions& options,
                                                   const base::Progress& progress);

} // namespace ripple::source
