#pragma once

#include "source/scene.h"

#include <span>
#include <string>

struct aiScene;
struct aiNode;

namespace ripple::importer {

/// The triangles of all nodes' meshes, or of the nodes called as `wanted` says. `originals`: the library's
/// node for each of `nodes`, null for ours. Materials are not read: parts count in readSceneMaterials().
/// Throws base::Failure: no triangles, no such mesh, indices out of range, positions that are not finite.
source::SceneGeometry readSceneMeshes(const aiScene& scene, const std::string& file,
                                      std::span<const source::SceneNode> nodes,
                                      std::span<const aiNode* const> originals,
                                      std::span<const std::string> wanted);

} // namespace ripple::importer
