#pragma once

#include "source/open.h"
#include "source/scene_source.h"

namespace ripple::source {

/// A .gltf or .glb file (glTF 2.0): skins, morph targets and animated nodes; all meshes of the default scene
/// as one.
std::shared_ptr<const FrameSource> openGltf(const std::filesystem::path& path, const OpenRequest& request,
                                            const base::Progress& progress);

/// Nodes, skins and animations of such a file, which needs no mesh.
Scene gltfMotion(const std::filesystem::path& path, const OpenRequest& request,
                 const base::Progress& progress);

} // namespace ripple::source
