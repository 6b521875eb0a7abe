#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::mesh {

/// Makes vertex normals from posed triangles: the sum over a group's corners of (triangle normal × triangle
/// area × corner angle), normalised. Area and angle together do not depend on how a flat face was cut, and
/// favour large faces as a modeller expects. Groups whose sum vanishes get +Y.
class NormalBuilder {
public:
    /// `indices`: triangles over vertexCount vertices. `smoothGroup`: vertexCount group numbers, or empty for
    /// a group per vertex. Vertices of one group get one normal; hard edges are vertices in different groups.
    NormalBuilder(std::span<const std::uint32_t> indices, std::size_t vertexCount,
                  std::span<const std::uint32_t> smoothGroup);

    /// `positions` and `normals` have vertexCount elements. Safe to call from several threads.
    void build(std::span<const glm::vec3> positions, std::span<glm::vec3> normals) const;

private:
    std::vector<std::uint32_t> indices_;
    std::vector<std::uint32_t> group_; // vertexCount
    std::size_t groups_ = 0;
};

} // namespace ripple::mesh
