#pragma once

#include "source/gltf_animation.h"

#include <span>
#include <vector>

namespace ripple::source {

/// Throws base::Failure for joints that do not exist and missing matrices.
std::vector<SceneSkin> readSkins(const GltfDocument& document, std::span<const SceneNode> nodes);

/// For each node, whether it is in the default scene; all are where the file has no scene.
std::vector<char> nodesInScene(const GltfDocument& document, std::span<const SceneNode> nodes);

} // namespace ripple::source
