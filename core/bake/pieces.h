#pragma once

#include "bake/poses.h"
#include "base/no_progress.h"
#include "mesh/mesh.h"

#include <glm/vec4.hpp>

namespace ripple::bake {

/// A mesh as stiff pieces that move.
struct Pieces {
    std::vector<std::uint32_t> ofVertex; ///< vertices
    std::vector<glm::vec3> pivots;       ///< pieces: the middle of its vertices in the rest pose
    std::vector<glm::vec3> places;       ///< frames × pieces: where the pivot is
    std::vector<glm::vec4> turns; ///< frames × pieces: unit quaternions x y z w, each near the one before
    double fit = 0.0;             ///< metres: most that a vertex is off from where its piece carries it

    std::size_t count() const { return pivots.size(); }
};

/// How far a vertex may be off, as part of the diagonal of the rest pose, for its part to count as stiff.
constexpr double kStiff = 1e-4;

/// Connected parts of the mesh whose motion fits a rigid one (Kabsch, "A solution for the best rotation to
/// relate two sets of vectors", 1976) within kStiff; parts that move alike are one piece. Throws
/// base::Failure naming the part that bends most, or if there are too many parts to be pieces.
Pieces findPieces(const mesh::Mesh& mesh, const Poses& poses,
                  const base::Progress& progress = base::noProgress());

} // namespace ripple::bake
