#pragma once

#include "base/no_progress.h"
#include "mesh/drawing.h"
#include "mesh/mesh.h"

#include <cstddef>
#include <span>
#include <vector>

namespace ripple::scatter {

/// A level of detail: fewer triangles over the same vertices, so that it reads the same textures
/// (docs/definitions.md §17).
struct Level {
    mesh::Coarse triangles;
    /// Metres: the furthest that a vertex which is left out lies from the level's surface, in any of the
    /// poses that it was measured in.
    double error = 0.0;

    std::size_t count() const { return triangles.indices.size() / 3; }
};

/// At most this many vertices that a level leaves out are measured, evenly among them.
constexpr std::size_t kMeasuredVertices = 4000;

/// `count` levels, each with about half the triangles of the one before, the mesh's own being the one before
/// the first. `poses` (poses × vertices, metres): what the error is measured in, and the first of them is
/// what triangles are chosen by. Fewer come where the mesh can't be made coarser: its pieces are small
/// already. Throws base::Cancelled.
std::vector<Level> makeLevels(const mesh::Mesh& mesh, std::span<const glm::vec3> poses, std::size_t count,
                              const base::Progress& progress = base::noProgress());

/// From how far an error covers no more than `pixels` of a picture that is `pixelsHigh` and shows
/// `fieldOfView` radians from bottom to top: metres.
double distanceFor(double error, double pixels, double pixelsHigh, double fieldOfView);

} // namespace ripple::scatter
