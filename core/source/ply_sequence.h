#pragma once

#include "source/open.h"

namespace ripple::source {

/// Numbered PLY files as one clip, ascii or binary of either byte order: positions, normals, UVs (V from the
/// bottom), vertex colours. The first frame gives the topology; a frame with another one fails, by name, when
/// it is asked for.
std::shared_ptr<const FrameSource> openPlySequence(const std::filesystem::path& path,
                                                   const OpenRequest& request,
                                                   const base::Progress& progress);

} // namespace ripple::source
