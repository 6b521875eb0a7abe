#pragma once

#include "base/problem.h"
#include "mesh/mesh.h"

#include <filesystem>
#include <vector>

struct aiScene;

namespace ripple::source {

/// The scene's materials in their order, and one more for meshes that name none. Images that are absent or
/// neither PNG nor JPEG become findings.
std::vector<mesh::Material> readSceneMaterials(const aiScene& scene, const std::filesystem::path& path,
                                               base::Findings& findings);

} // namespace ripple::source
