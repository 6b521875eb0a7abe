#pragma once

#include "source/open.h"

namespace ripple::source {

/// A point cache in one of the two documented layouts, .pc2 (little-endian, frames without times) or .mdd
/// (big-endian, with the time of each frame), with its mesh: an OBJ, PLY, .gltf or .glb file of the same name
/// beside it, or the only one in its folder. The cache's points are that mesh's vertices in the order of its
/// file. Memory-mapped: a cache may be larger than memory.
std::shared_ptr<const FrameSource> openPointCache(const std::filesystem::path& path,
                                                  const OpenRequest& request, const base::Progress& progress);

} // namespace ripple::source
