#pragma once

#include "source/open.h"

namespace ripple::source {

/// A .gltf or .glb file (glTF 2.0): skins, morph targets and animated nodes; all meshes of the default scene
/// as one.
std::shared_ptr<const FrameSource> openGltf(const std::filesystem::path& path, const OpenRequest& request,
                                            const base::Progress& progress);

} // namespace ripple::source
