#pragma once

#include "mesh/mesh.h"

#include <array>
#include <cstdint>
#include <vector>

namespace ripple::mesh {

/// How the vertices of a subdivided mesh come from those before: the mean of two, or one kept (both alike).
/// Anything that lies on the vertices is carried over by `mean`.
struct Midpoints {
    std::vector<std::array<std::uint32_t, 2>> parents; ///< new vertices

    /// new[v] = (old[a] + old[b]) / 2; exactly old[a] for a kept vertex.
    template <typename Old, typename New>
    void mean(const Old& old, New& fresh) const {
        for (std::size_t v = 0; v < parents.size(); ++v) {
            const auto [a, b] = parents[v];
            fresh[v] = a == b ? old[a] : (old[a] + old[b]) * 0.5f;
        }
    }
};

/// Splits every triangle into four at the midpoints of its edges. The surface stays where it was; each part
/// keeps its own vertices first, in their order. Triangles of a part share midpoints where they share
/// vertices. Normals are renormalised means.
Mesh subdivide(const Mesh& mesh, Midpoints& midpoints);

} // namespace ripple::mesh
