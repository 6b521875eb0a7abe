#pragma once

#include "bake/sampling.h"
#include "bake/seam.h"
#include "bake/texture_reader.h"
#include "base/no_progress.h"
#include "mesh/bounds.h"
#include "source/frame_source.h"

#include <cstdint>
#include <string>
#include <vector>

namespace ripple::bake {

/// Distances over all vertices of a set of instants (docs/definitions.md §6).
struct Distances {
    double max = 0.0; ///< metres
    double rms = 0.0;
    double p99 = 0.0; ///< 99 of 100 vertex positions are no further off
};

/// The error at one instant.
struct InstantError {
    std::size_t clip = 0; ///< of the plan
    double frame = 0.0;   ///< in frames that the clip plays, fractional between them
    bool kept = true;     ///< a stored frame; else between them
    float max = 0.0f;     ///< metres
    float normalMaxDegrees = 0.0f;
};

/// What the stored textures lose against the source.
struct ErrorReport {
    Distances all;           ///< at kept frames and between them
    Distances atFrames;      ///< at kept frames only: what the store loses
    Distances betweenFrames; ///< at midpoints or left-out frames: what the step loses
    double normalMaxDegrees = 0.0;
    double normalRmsDegrees = 0.0;
    double normalAtFramesMaxDegrees = 0.0;
    std::size_t normalsUndefined = 0; ///< vertices, over all instants, at which the source has no normal
    /// One for each clip of the plan: they hold all that is decoded, at the instants and, where kept frames
    /// are blended in straight lines, between them; widened by what rounding may add in another program.
    std::vector<mesh::Bounds> clipBounds;
    std::size_t worstVertex = 0;
    std::string worstClip;
    double worstFrame = 0.0;            ///< in frames that the clip plays, fractional between them
    std::vector<InstantError> instants; ///< by clip and frame
    double diagonal = 0.0;              ///< of the bounds, for percentages
};

/// Poses of a plan that are in memory already; the others are asked of the source again.
struct KnownPoses {
    const Frames* kept = nullptr;   ///< sampleFrames
    const Frames* probes = nullptr; ///< sampleProbes
};

/// How much a measurement tells.
enum class Detail {
    all,
    positions, ///< no normals and no percentiles
};

/// Reports on an earlier bake of the same poses that stored positions, or normals, as this one does: what
/// they say of those is not measured again.
struct EarlierError {
    const ErrorReport* positions = nullptr;
    const ErrorReport* normals = nullptr;
};

/// Compares what `reader` gives with the source, at all instants of `plan`. `clips` are the reader's, one for
/// each of the plan's. The result does not depend on the number of threads. Percentiles are taken over every
/// n-th vertex where there are more than 4 million distances.
ErrorReport measureError(const source::FrameSource& source, const SamplePlan& plan, const KnownPoses& known,
                         const TextureReader& reader, std::span<const BakedClip> clips,
                         const base::Progress& progress = base::noProgress(), Detail detail = Detail::all,
                         const EarlierError& earlier = {});

/// How much moves: for each frame the way from it to the next (the last: over the seam to the first), metres.
struct Motion {
    std::vector<float> max;  ///< frames
    std::vector<float> mean; ///< frames
    float largest = 0.0f;
    float medianMax = 0.0f; ///< of max, the seam left out
};
Motion measureMotion(const Frames& frames, std::size_t first, std::size_t count);
/// Sets max and mean of one step, from a pose to the next. Steps may be measured by several threads.
void measureStep(std::span<const glm::vec3> from, std::span<const glm::vec3> to, std::size_t step,
                 Motion& motion);
/// Sets largest and medianMax from max.
void summarise(Motion& motion);

} // namespace ripple::bake
