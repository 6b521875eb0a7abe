#pragma once

#include "mesh/mesh.h"

#include <cstdint>
#include <span>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::mesh {

/// Makes vertex normals from posed triangles: the sum over a group's corners of (triangle normal × triangle
/// area × corner angle), normalised. Area and angle together do not depend on how a flat face was cut, and
/// favour large faces as a modeller expects. A group whose triangles have no area, or cancel each other, has
/// no direction: it gets the zero vector.
class NormalBuilder {
public:
    /// `indices`: triangles over vertexCount vertices. `smoothGroup`: vertexCount group numbers, or empty for
    /// a group per vertex. Vertices of one group get one normal; hard edges are vertices in different groups.
    NormalBuilder(std::span<const std::uint32_t> indices, std::size_t vertexCount,
                  std::span<const std::uint32_t> smoothGroup);

    /// `positions` and `normals` have vertexCount elements. Safe to call from several threads.
    void build(std::span<const glm::vec3> positions, std::span<glm::vec3> normals) const;

private:
    std::vector<std::uint32_t> indices_; // triangles, filled up to a multiple of four with empty ones
    std::vector<std::uint32_t> group_;   // vertexCount; empty where each vertex is its own
    std::vector<std::uint32_t> corners_; // group of each index; likewise
    std::size_t groups_ = 0;
    bool grouped_ = false; // some group is not that of its own vertex
};

/// Groups for a mesh that names none: vertices of meshes of one name that lie at the same place at rest, as
/// on either side of a UV seam, share a normal. `byNormal`: only where their own normals agree too, so that
/// the hard edges of a mesh with normals stay hard. vertexCount numbers.
std::vector<std::uint32_t> smoothGroupsOf(const Mesh& mesh, bool byNormal);

/// What was wrong with normals that a file holds.
struct NormalFaults {
    std::size_t missing = 0; ///< of no length, or not finite
    std::size_t length = 0;  ///< off from unit length by more than a thousandth
    void add(const NormalFaults& other) {
        missing += other.missing;
        length += other.length;
    }
};

/// Makes every normal unit length, or zero where it has no direction.
NormalFaults makeUnit(std::span<glm::vec3> normals);

/// The angle between two directions of any length, degrees; 180 where it is no number. By the arc tangent,
/// which is exact for small angles too.
float degreesBetween(const glm::vec3& a, const glm::vec3& b);

/// The normals with +Y where there is no direction: for files and programs that want unit length everywhere.
std::vector<glm::vec3> filledNormals(std::span<const glm::vec3> normals);

} // namespace ripple::mesh
