#pragma once

#include "mesh/mesh.h"

#include <cstdint>
#include <vector>

namespace ripple::mesh {

/// Triangles (their numbers) that have no area in the rest pose: two corners alike, or a height below a
/// millionth of their longest edge.
std::vector<std::uint32_t> degenerateTriangles(const Mesh& mesh);

/// Vertices that no triangle uses.
std::vector<std::uint32_t> unusedVertices(const Mesh& mesh);

/// For each vertex the first vertex of its part that agrees with it in rest position, normal, UVs and colour;
/// itself where there is none before it.
std::vector<std::uint32_t> firstAlike(const Mesh& mesh);

/// The mesh without some triangles and with only the vertices that are kept.
/// `triangleDropped`: triangles; `replacement`: vertices, whom to use instead (itself for a kept one);
/// `vertexDropped`: vertices. `kept` gets the old number of each new vertex.
Mesh without(const Mesh& mesh, const std::vector<char>& triangleDropped,
             const std::vector<std::uint32_t>& replacement, const std::vector<char>& vertexDropped,
             std::vector<std::uint32_t>& kept);

/// UVs for a mesh that has none: its rest pose as seen along its thinnest axis, 0..1 over the larger of the
/// two others, origin at the top left.
std::vector<glm::vec2> projectedUvs(const Mesh& mesh);

} // namespace ripple::mesh
