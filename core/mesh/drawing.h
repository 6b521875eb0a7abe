#pragma once

#include "mesh/mesh.h"

#include <cstdint>
#include <span>
#include <vector>

namespace ripple::mesh {

/// The mesh's indices with the triangles of each part in an order in which a vertex stage that remembers the
/// last vertices has little to do twice. The triangles themselves, and which part holds them, stay.
std::vector<std::uint32_t> drawingOrder(const Mesh& mesh);

/// Fewer triangles over some of the same vertices.
struct Coarse {
    struct Range {
        std::uint32_t firstIndex = 0;
        std::uint32_t indexCount = 0;
    };
    std::vector<std::uint32_t> indices; ///< in drawing order
    std::vector<Range> parts;           ///< of the indices; parts
};

/// Whether borders keep all their vertices, or are thinned along their own course.
enum class Borders { stay, mayThin };

/// About `share` (0..1) of each part's triangles, at least one, over the shape that vertices have in `shape`
/// (vertices; metres).
Coarse simplified(const Mesh& mesh, std::span<const glm::vec3> shape, double share,
                  Borders borders = Borders::stay);

/// About `triangles` triangles in all that look like the mesh, for a quick picture of a dense one. Vertices
/// are left out evenly: a flat sheet stays dense enough to show how it moves. The seams of UVs stay whole.
Coarse coarsen(const Mesh& mesh, std::size_t triangles, Borders borders = Borders::stay);

} // namespace ripple::mesh
