#pragma once

#include "bundle/fault.h"
#include "mesh/axis_map.h"
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

/// Z up instead of Y, and centimetres instead of metres: the space of a mesh that an importer turned or
/// scaled.
mesh::AxisMap importedSpace(bool turned, bool scaled);

} // namespace ripple::bundle
