#pragma once

#include "source/imported_scene.h"

#include <vector>

struct aiScene;

namespace ripple::importer {

/// The scene's materials in their order, and one more for meshes that name none. Images that the file holds
/// come along; others by their name.
std::vector<source::ImportedMaterial> readSceneMaterials(const aiScene& scene);

} // namespace ripple::importer
