#pragma once

#include "base/files.h"
#include "mesh/mesh.h"
#include "scatter/placement.h"

#include <span>
#include <string>

namespace ripple::scatter {

/// Copies of a mesh as GLB: one node that is drawn once for each, by EXT_mesh_gpu_instancing (the extension's
/// TRANSLATION, ROTATION and SCALE). What else they differ in is in attributes of our own, a float each:
/// _CLIP, _START, _RATE, _TINT and _ID, as Difference says. A program that does not know the extension shows
/// one copy.
base::Bytes copiesGlb(const mesh::Mesh& mesh, const std::string& name, std::span<const Copy> copies);

} // namespace ripple::scatter
