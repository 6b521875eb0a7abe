#pragma once

#include "bundle/score_inputs.h"
#include "motion/perform.h"

#include <memory>
#include <optional>

namespace ripple::bundle {

/// A score whose masks and courses are values at the vertices, as far as they do not change while it plays:
/// what reads a parameter, the copy or the world stays in the code.
struct StoredMasks {
    mesh::Mesh mesh; ///< with the values as stored ones
    std::shared_ptr<const motion::Performance> performance;
    /// The largest angle by which normals differ from those of the plain score, over the loop.
    double normalLossDeg = 0.0;
};

/// `plain` plays the same score on the same mesh. How values change along the surface is stored beside them
/// where there is room for it in kUvSetsKept UV sets; else normals follow as if they did not change.
StoredMasks storeMasks(const motion::Score& score, const mesh::Mesh& mesh, const motion::Performance& plain);

} // namespace ripple::bundle
