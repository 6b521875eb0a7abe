#pragma once

#include "bake/texture_set.h"
#include "base/files.h"
#include "mesh/mesh.h"

#include <cstdint>
#include <span>
#include <string>
#include <vector>

#include <glm/vec2.hpp>
#include <glm/vec3.hpp>

namespace tinygltf {
class Model;
}

namespace ripple::bundle {

/// The mesh in its rest pose as glTF: one node without a transform, one primitive per part with its own range
/// of vertices in the mesh's order, all UV sets and `lookup` (vertexCount) as set `lookupSet`, materials with
/// their images. Sets between the mesh's last and the lookup are filled with zeros. `more` sets follow, from
/// pivotUvSet() on. No vertex is dropped or joined.
tinygltf::Model meshModel(const mesh::Mesh& mesh, std::span<const glm::vec2> lookup, std::size_t lookupSet,
                          std::span<const std::vector<glm::vec2>> more, const std::string& name);
/// The same as a GLB file.
base::Bytes encodeMesh(const mesh::Mesh& mesh, std::span<const glm::vec2> lookup, std::size_t lookupSet,
                       std::span<const std::vector<glm::vec2>> more, const std::string& name);

/// What a bake keeps in UV sets: the first set is the lookup, or the first of a vertex's joints; then, of
/// pieces, their pivots' x and y, and z with the number of the piece; or the other joints and weights.
std::vector<std::vector<glm::vec2>> uvSetsOf(const bake::TextureSet& set,
                                             std::span<const std::uint32_t> columnOfVertex);
/// How many of those sets follow the first, from format.pivotUvSet on.
std::size_t extraUvSets(const bake::BakeFormat& format);
/// The other way: columns, pivots and influences as the mesh holds them. `format`, `lookupSet` and `mesh` are
/// a bundle's. Throws base::Failure where they do not fit, naming `file`.
void takeUvSets(const mesh::Mesh& mesh, std::size_t lookupSet, const std::string& file, bake::TextureSet& set,
                std::vector<std::uint32_t>& columnOfVertex);

/// The first of the UV sets that follow: the one behind the last, the lookup counted.
std::size_t pivotUvSet(const mesh::Mesh& mesh, std::size_t lookupSet);

} // namespace ripple::bundle
