#pragma once

#include "base/problem.h"
#include "mesh/mesh.h"
#include "source/frame_source.h"
#include "source/skinning.h"

#include <cstdint>
#include <string>
#include <vector>

#include <glm/gtc/quaternion.hpp>
#include <glm/mat4x4.hpp>
#include <glm/vec3.hpp>

namespace ripple::source {

// A scene of nodes that move meshes, as glTF 2.0 defines it. Readers of scene files fill it; SceneSource
// plays it.

/// A node's local transform: translation · rotation · scale, or a matrix where the file gives one.
struct SceneNode {
    std::string name;
    int parent = -1;
    int mesh = -1; ///< of a glTF file
    int skin = -1;
    glm::dvec3 translation{0.0};
    glm::dquat rotation{1.0, 0.0, 0.0, 0.0};
    glm::dvec3 scale{1.0};
    bool hasMatrix = false;
    glm::dmat4 matrix{1.0};
    std::vector<double> weights; ///< morph targets' rest weights
};

/// Additive change of positions and normals at weight 1 (glTF 2.0, section 3.7.2.2).
struct MorphTarget {
    std::string name;
    std::vector<glm::vec3> positions; ///< part's vertices, or empty
    std::vector<glm::vec3> normals;   ///< part's vertices, or empty
};

struct SceneSkin {
    std::vector<std::size_t> joints;     ///< nodes
    std::vector<glm::dmat4> inverseBind; ///< joints
};

/// How one part of the mesh moves: a primitive as instanced by one node. Its vertices are the range
/// firstVertex .. + vertexCount of the whole; geometry here is in the primitive's own space.
struct ScenePart {
    std::size_t node = 0;
    int skin = -1;
    std::uint32_t firstVertex = 0;
    std::uint32_t vertexCount = 0;
    bool hasNormals = true;
    SkinWeights weights; ///< of skinned parts
    std::vector<MorphTarget> morphs;
    std::vector<double> restMorphWeights;
};

/// Everything that stays the same over time. mesh.positions and mesh.normals are in each primitive's own
/// space (not posed yet); mesh.normals holds zeros for parts without normals.
struct SceneGeometry {
    mesh::Mesh mesh;
    std::vector<ScenePart> parts; ///< one for each of mesh.parts
    std::vector<SceneSkin> skins;
    std::vector<MeshEntry> entries;
    bool madeNormals = false; ///< some part has no normals: its are made from the posed triangles
    base::Findings findings;
};

/// The nodes in an order in which each comes behind its parent. Those in or below a circle of parents are
/// left out.
std::vector<std::size_t> parentsFirst(std::span<const SceneNode> nodes);

/// Throws base::Failure if a node is its own ancestor; `where` names the file.
void requireTree(std::span<const SceneNode> nodes, const std::string& where);

} // namespace ripple::source
