#pragma once

#include "source/gltf_animation.h"
#include "source/gltf_skins.h"

namespace ripple::source {

/// Reads the default scene's meshes, or those called as `wanted` says.
SceneGeometry readGeometry(const GltfDocument& document, std::span<const SceneNode> nodes,
                           std::span<const std::string> wanted);

} // namespace ripple::source
