#pragma once

#include "source/gltf_animation.h"

#include <span>
#include <vector>

namespace ripple::source {

struct GltfSkin {
    std::vector<std::size_t> joints;     ///< nodes
    std::vector<glm::dmat4> inverseBind; ///< joints
};

/// Throws base::Failure for joints that do not exist and missing matrices.
std::vector<GltfSkin> readSkins(const GltfDocument& document, std::span<const GltfNode> nodes);

/// For each node, whether it is in the default scene; all are where the file has no scene.
std::vector<char> nodesInScene(const GltfDocument& document, std::span<const GltfNode> nodes);

} // namespace ripple::source
