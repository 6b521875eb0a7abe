#pragma once

#include "source/gltf_document.h"
#include "source/scene_animation.h"

namespace ripple::source {

/// Nodes with parents; a node with two parents or a cycle is a failure.
std::vector<SceneNode> readNodes(const GltfDocument& document);

/// All animations that move something. Small breaches (repeated key times, keys out of order, missing
/// targets) become findings.
std::vector<SceneAnimation> readAnimations(const GltfDocument& document, std::span<const SceneNode> nodes,
                                           base::Findings& findings);

} // namespace ripple::source
