#pragma once

#include "demo/heron_skeleton.h"
#include "mesh/mesh.h"

#include <array>
#include <cstdint>
#include <vector>

#include <glm/vec4.hpp>

namespace ripple::demo {

/// Regions of the heron's texture, each a horizontal band of the image; v runs along the part, u around it.
enum class HeronSkin { body, wing, leg, toe, plume, eye };

/// Where a region lies in the texture: u0, v0, u1, v1.
glm::vec4 skinRegion(HeronSkin skin);

struct HeronMesh {
    mesh::Mesh mesh;
    std::vector<std::array<std::uint8_t, 4>> joints; ///< vertices; only the first two are used
    std::vector<std::array<float, 4>> weights;       ///< vertices
};

/// Swept from profiles along the bones; normals made from the triangles. `detail`, 0..1: of its rings and
/// sides.
HeronMesh buildHeron(float detail = 1.0f);

} // namespace ripple::demo
