#pragma once

#include "base/no_progress.h"
#include "motion/perform.h"

#include <vector>

namespace ripple::motion {

/// What is lost where a shift of the texture, or a cut-out, is worked out at the vertices and interpolated
/// over the triangles, instead of at each pixel.
struct InterpolationLoss {
    double uv = 0.0;            ///< the largest distance, in UV units; 0 without a shift
    double alpha = 0.0;         ///< the largest difference, 0..1; 0 without a cut-out
    std::vector<float> uvAt;    ///< vertices: the worst of the triangles around; empty without a shift
    std::vector<float> alphaAt; ///< the same of alpha
};

/// Measured at the middles of triangles and of their edges, at 16 instants of the loop; what a pixel reads is
/// interpolated there as a graphics card does.
InterpolationLoss interpolationLoss(const Performance& performance, const mesh::Mesh& mesh,
                                    const base::Progress& progress = base::noProgress());

/// Pixels that the mesh covers where its rest bounds are so many pixels high, seen from the front (+Z): the
/// projected area of the triangles that face it, one behind the other counted each.
double coveredPixels(const mesh::Mesh& mesh, double pixelsHigh);

} // namespace ripple::motion
