#pragma once

#include "bundle/fault.h"
#include "mesh/mesh.h"

#include <span>

namespace ripple::bundle {

/// Whether vertex colours can have that too; and how they are then.
bool damagesColours(TextureDamage damage);
std::vector<glm::vec4> damagedColours(TextureDamage damage, std::span<const glm::vec4> colours);

/// What importers with the faults make of a mesh: its normals, places, UVs and, for faults of bytes, its
/// vertex colours. As many vertices in the same order. What the faults do to textures is left alone.
mesh::Mesh importedMesh(const mesh::Mesh& mesh, std::span<const Fault* const> chosen);

/// The same with vertices split, in another order or welded, as one part; and `uvSet` in the first one's
/// place, and the other way, where the fault is to look there.
mesh::Mesh rebuiltMesh(const mesh::Mesh& mesh, std::size_t uvSet, std::span<const Fault* const> chosen);

/// Whether importedMesh() or rebuiltMesh() may change something by it.
bool changesMesh(const Fault& fault);

/// Of each vertex the first that lies in its place.
std::vector<std::uint32_t> firstInPlace(const mesh::Mesh& mesh);

/// +Y becomes +Z, and back: what the fault of turned axes does to a place.
glm::vec3 toZUp(const glm::vec3& p);
glm::vec3 toYUp(const glm::vec3& p);
constexpr float kCentimetres = 100.0f; ///< in a metre: what the fault of the unit multiplies with

} // namespace ripple::bundle
