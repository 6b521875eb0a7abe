#pragma once

#include "mesh/mesh.h"

#include <span>
#include <vector>

#include <glm/vec2.hpp>
#include <glm/vec3.hpp>

namespace ripple::mesh {

/// Carries a mesh's own tangents along with its triangles. At rest each triangle at a vertex holds its share
/// of the tangent as a sum of two of its edges; in a pose the same sum of the posed edges is what the surface
/// made of it. Shares are weighted by the triangle's rest area and corner angle, and the result is made
/// perpendicular to the posed normal. Exact for rigid motion; for stretched surfaces tangents follow the
/// surface as the UV directions do that they came from. The sign in Mesh::tangents' w does not change.
class TangentBuilder {
public:
    /// `mesh` at rest, with tangents. Throws nothing; a tangent of no length, or along its normal, is
    /// replaced by some direction perpendicular to the normal.
    explicit TangentBuilder(const Mesh& mesh);

    /// Spans have as many elements as the mesh has vertices; `normals` are the posed ones. Unit length.
    /// Safe to call from several threads.
    void build(std::span<const glm::vec3> positions, std::span<const glm::vec3> normals,
               std::span<glm::vec3> tangents) const;

private:
    std::vector<std::uint32_t> indices_;
    std::vector<glm::vec2>
        share_; // corners: tangent's share along the edges to the next corner and the one after
    std::vector<glm::vec2> turn_; // vertices: cosine and sine that take the sum of shares to the tangent
};

/// `v` without its part along the unit vector `normal`, of length 1; if nothing is left, some direction
/// perpendicular to it.
glm::vec3 perpendicular(const glm::vec3& v, const glm::vec3& normal);

/// Tangents of some vertices from UVs, as glTF 2.0 wants them of whoever finds none (MikkTSpace but for its
/// splitting of vertices): the directions in which U grows on the triangles at a vertex, by the angles there,
/// perpendicular to the normal; w says on which side V falls, for textures have +Y up and V down. All but
/// `indices` (triangles) have one element a vertex. Where UVs lead nowhere, some direction perpendicular to
/// the normal.
std::vector<glm::vec4> tangentsFromUvs(std::span<const glm::vec3> positions,
                                       std::span<const glm::vec3> normals, std::span<const glm::vec2> uvs,
                                       std::span<const std::uint32_t> indices);

/// Drops tangents that do not cover all vertices.
void requireWholeTangents(Mesh& mesh);

} // namespace ripple::mesh
