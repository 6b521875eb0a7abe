#pragma once

#include "mesh/mesh.h"
#include "source/gltf_document.h"

#include <vector>

namespace ripple::source {

/// The file's materials in their order, and one more: the default for parts that name none. Images that
/// cannot be read become findings.
std::vector<mesh::Material> readGltfMaterials(const GltfDocument& document, base::Findings& findings);

} // namespace ripple::source
