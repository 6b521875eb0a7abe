#pragma once

#include "mesh/mesh.h"
#include "source/frame_source.h"
#include "source/gltf_animation.h"
#include "source/gltf_skins.h"
#include "source/skinning.h"

namespace ripple::source {

/// Additive change of positions and normals at weight 1 (glTF 2.0, section 3.7.2.2).
struct GltfMorphTarget {
    std::vector<glm::vec3> positions; ///< part's vertices, or empty
    std::vector<glm::vec3> normals;   ///< part's vertices, or empty
};

/// How one part of the mesh moves: a primitive as instanced by one node. Its vertices are the range
/// firstVertex .. + vertexCount of the whole; geometry here is in the primitive's own space.
struct GltfPart {
    std::size_t node = 0;
    int skin = -1;
    std::uint32_t firstVertex = 0;
    std::uint32_t vertexCount = 0;
    bool hasNormals = true;
    SkinWeights weights; ///< of skinned parts
    std::vector<GltfMorphTarget> morphs;
    std::vector<double> restMorphWeights;
};

/// Everything that stays the same over time. mesh.positions and mesh.normals are in each primitive's own
/// space (not posed yet); mesh.normals holds zeros for parts without normals.
struct GltfGeometry {
    mesh::Mesh mesh;
    std::vector<GltfPart> parts;
    std::vector<GltfSkin> skins;
    std::vector<MeshEntry> entries;
    bool madeNormals = false; ///< some part has no normals: its are made from the posed triangles
    base::Findings findings;
};

/// Reads the default scene's meshes, or the one called `wanted`.
GltfGeometry readGeometry(const GltfDocument& document, std::span<const GltfNode> nodes,
                          const std::string& wanted);

} // namespace ripple::source
