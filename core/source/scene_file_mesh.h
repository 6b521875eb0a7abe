#pragma once

#include "source/scene.h"

#include <filesystem>
#include <span>
#include <string>

struct aiScene;
struct aiNode;

namespace ripple::source {

/// The triangles of all nodes' meshes, or of the nodes called as `wanted` says. `originals`: the library's
/// node for each of `nodes`, null for ours. Throws base::Failure: no triangles, no such mesh, indices out of
/// range, positions that are not finite.
SceneGeometry readSceneMeshes(const aiScene& scene, const std::filesystem::path& path,
                              std::span<const SceneNode> nodes, std::span<const aiNode* const> originals,
                              std::span<const std::string> wanted);

} // namespace ripple::source
