#pragma once

#include "bake/recipe.h"
#include "bake/sampling.h"
#include "bake/texture_set.h"
#include "base/progress.h"
#include "mesh/bounds.h"
#include "source/frame_source.h"

#include <cstdint>
#include <vector>

namespace ripple::bake {

/// The result of a bake, before any file is written.
struct Baked {
    TextureSet textures;
    std::vector<std::uint32_t> columnOfVertex; ///< vertices
    mesh::Bounds bounds;                       ///< of all frames of all clips
    base::Findings findings;
};

/// Encodes sampled frames. `frames` were sampled by `plan` from `source`. Throws base::Failure for unknown
/// stores, values that the store cannot hold, and textures over the limits.
Baked encodeFrames(const source::FrameSource& source, const SamplePlan& plan, const Frames& frames,
                   const Recipe& recipe, const base::Progress& progress = {});

/// planSampling, sampleFrames and encodeFrames in one.
Baked bake(const source::FrameSource& source, const Recipe& recipe, const base::Progress& progress = {});

} // namespace ripple::bake
