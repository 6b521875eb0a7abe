#pragma once

#include "base/no_progress.h"
#include "mesh/mesh.h"
#include "motion/perform.h"

#include <cstddef>

namespace ripple::motion {

/// What a score does to a surface at its worst, over some instants of the loop.
struct Folds {
    /// Triangles that at some instant face away from the normals at their corners, by more than a right angle
    /// and half a right angle more than at rest: the surface folds over itself there and is lit from the
    /// wrong side. Triangles without area at rest do not count.
    std::size_t triangles = 0;
    std::size_t vertex = 0;                     ///< a corner of the worst of them
    double turn = 0.0;                          ///< when that one is worst
    double normalOff = 0.0;                     ///< degrees: the largest such angle; 0 where nothing folds
    double stretch = 0.0;                       ///< the largest |length / rest length − 1| of an edge
    std::size_t stretched = 0;                  ///< a vertex of that edge
    double stretchTurn = 0.0;                   ///< when
    static constexpr double kMuchStretch = 0.6; ///< beyond it textures and shading show it

    bool folded() const { return triangles > 0; }
    bool stretchedMuch() const { return stretch > kMuchStretch; }
};

/// At `turns` instants spread over the loop, one copy that is neither turned nor scaled.
Folds measureFolds(const Performance& performance, const mesh::Mesh& mesh, int turns = 24,
                   const base::Progress& progress = base::noProgress());

} // namespace ripple::motion
