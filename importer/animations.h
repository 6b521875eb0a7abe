#pragma once

#include "source/scene_animation.h"

#include <span>
#include <string>
#include <vector>

#include <assimp/matrix4x4.h>

struct aiScene;
struct aiNode;

namespace ripple::importer {

/// The library's matrices are row-major.
glm::dmat4 matrixOf(const aiMatrix4x4& from);

/// The clips of a scene. Animated nodes get translation, rotation and scale in place of their matrix; all
/// keys are linear (rotations by slerp), which is all that the library passes on. Throws base::Failure for
/// keys that are not finite.
std::vector<source::SceneAnimation> readSceneAnimations(const aiScene& scene, const std::string& file,
                                                        std::vector<source::SceneNode>& nodes,
                                                        std::span<const aiNode* const> originals);

} // namespace ripple::importer
