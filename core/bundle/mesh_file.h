#pragma once

#include "base/files.h"
#include "mesh/mesh.h"

#include <cstdint>
#include <span>

#include <glm/vec2.hpp>
#include <glm/vec3.hpp>

namespace ripple::bundle {

/// The pivot of each vertex's piece; no pivots: nothing is stored.
struct PivotUvs {
    std::span<const std::uint32_t> pieceOfVertex;
    std::span<const glm::vec3> pivots; ///< pieces
};

/// The mesh in its rest pose as GLB: one node without a transform, one primitive per part with its own range
/// of vertices in the mesh's order, all UV sets and `lookup` (vertexCount) as set `lookupSet`, materials with
/// their images. Sets between the mesh's last and the lookup are filled with zeros. Pivots go into two sets
/// more, from pivotUvSet() on: x and y; z and the number of the piece. No vertex is dropped or joined.
base::Bytes encodeMesh(const mesh::Mesh& mesh, std::span<const glm::vec2> lookup, std::size_t lookupSet,
                       const PivotUvs& pivots, const std::string& name);

/// The first of the two UV sets that pivots go into: the one behind the last, the lookup counted.
std::size_t pivotUvSet(const mesh::Mesh& mesh, std::size_t lookupSet);

} // namespace ripple::bundle
