#pragma once

#include "source/open.h"

namespace ripple::source {

/// Numbered OBJ files as one clip. The first frame gives the topology; a frame with other counts or faces
/// fails, by name, when it is asked for. Frames whose files give normals use them; else they are made from
/// the triangles.
std::shared_ptr<const FrameSource> openObjSequence(const std::filesystem::path& path,
                                                   const OpenRequest& request,
                                                   const base::Progress& progress);

} // namespace ripple::source
