#pragma once

#include "mesh/mesh.h"

#include <span>
#include <vector>

#include <glm/mat3x3.hpp>

namespace ripple::motion {

/// One copy of the model in the world.
struct Copy {
    float id = 0.0f; ///< 0 ≤ id < 1
    glm::vec3 origin{0.0f};
    glm::mat3 axes{1.0f}; ///< columns: the object's axes in the world, orthonormal
    float scale = 1.0f;   ///< above 0
};

/// What an expression reads of each vertex; spans have as many elements as there are vertices, and those that
/// no expression names may be empty.
struct VertexFields {
    std::span<const glm::vec3> positions;
    std::span<const glm::vec3> normals;
    std::vector<std::span<const float>> uvs; ///< by 2 · set + axis
    std::vector<std::span<const glm::vec3>> uvSlopes;
    std::vector<std::span<const float>> colours; ///< by channel
    std::vector<std::span<const glm::vec3>> colourSlopes;
    std::vector<std::span<const float>> stored; ///< in the order of the mesh
    std::vector<std::span<const glm::vec3>> storedSlopes;

    std::size_t size() const { return positions.size(); }
};

/// How a value at the vertices changes along the surface, per metre: each triangle's own slope (the values
/// are linear on it), averaged at its vertices with weights of area. Vertices of triangles without area get
/// 0.
std::vector<glm::vec3> surfaceSlopes(const mesh::Mesh& mesh, std::span<const float> values);

} // namespace ripple::motion
