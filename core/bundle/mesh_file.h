#pragma once

#include "base/files.h"
#include "mesh/mesh.h"

#include <span>

#include <glm/vec2.hpp>

namespace ripple::bundle {

/// The mesh in its rest pose as GLB: one node without a transform, one primitive per part with its own range
/// of vertices in the mesh's order, all UV sets and `lookup` (vertexCount) as the free one (mesh::freeUvSet),
/// materials with their base-colour images. No vertex is dropped or joined.
base::Bytes encodeMesh(const mesh::Mesh& mesh, std::span<const glm::vec2> lookup, const std::string& name);

} // namespace ripple::bundle
