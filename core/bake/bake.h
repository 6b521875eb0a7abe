#pragma once

#include "bake/recipe.h"
#include "bake/sampling.h"
#include "bake/texture_reader.h"
#include "bake/texture_set.h"
#include "base/no_progress.h"
#include "mesh/bounds.h"
#include "source/frame_source.h"
#include "source/rig.h"

#include <cstdint>
#include <memory>
#include <span>
#include <vector>

namespace ripple::bake {

/// The result of a bake, before any file is written.
struct Baked {
    TextureSet textures;
    std::vector<std::uint32_t> columnOfVertex; ///< vertices
    mesh::Bounds bounds;                       ///< of all frames of all clips
    base::Findings findings;
    /// Of a bake of joints: the mesh is shipped as its joints take it, where that is not the rest pose.
    std::shared_ptr<const source::Rig> rig;

    /// The pose that is shipped; `mesh` is the source's.
    std::span<const glm::vec3> shippedPositions(const mesh::Mesh& mesh) const;
    std::span<const glm::vec3> shippedNormals(const mesh::Mesh& mesh) const;
    mesh::Mesh shippedMesh(mesh::Mesh mesh) const;
    /// This and `mesh` must outlive it.
    TextureReader reader(const mesh::Mesh& mesh) const;
};

/// Encodes sampled frames. `frames` were sampled by `plan` from `source`. Throws base::Failure for unknown
/// stores, values that the store cannot hold, choices that do not go together, textures over the limits, and
/// for a bake of pieces a mesh that is not made of stiff ones. `earlier`: of the same frames; textures that
/// it stores alike are taken from it.
Baked encodeFrames(const source::FrameSource& source, const SamplePlan& plan, const Frames& frames,
                   const Recipe& recipe, const base::Progress& progress = base::noProgress(),
                   const Baked* earlier = nullptr);

/// The same straight from the source, which is asked for each frame once or twice: beside the textures only a
/// few poses are in memory (for shapes: those of all frames).
Baked bake(const source::FrameSource& source, const SamplePlan& plan, const Recipe& recipe,
           const base::Progress& progress = base::noProgress());

/// planSampling and the bake in one.
Baked bake(const source::FrameSource& source, const Recipe& recipe,
           const base::Progress& progress = base::noProgress());

/// Throws base::Failure for choices of a recipe that do not go together, saying which do.
void requireFitting(const Recipe& recipe);

} // namespace ripple::bake
