#pragma once

#include "bake/sampling.h"
#include "bake/texture_reader.h"
#include "base/progress.h"
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
                         const base::Progress& progress = {}, Detail detail = Detail::all,
                         const EarlierError& earlier = {});

/// Gap at the seam N−1 → 0 of a clip (docs/definitions.md §1): the most that any vertex travels over the seam
/// beyond the mean of what it travels over the two neighbouring steps, in metres; 0 when none travels
/// further. Frames first .. + count.
double seamGap(const Frames& frames, std::size_t first, std::size_t count);

/// The poses on either side of a seam, vertices each: the last two frames, then the first two.
struct SeamPoses {
    std::span<const glm::vec3> before;
    std::span<const glm::vec3> last;
    std::span<const glm::vec3> start;
    std::span<const glm::vec3> second;
};
double seamGap(const SeamPoses& poses);

/// What a seam shows, and what the clip shows elsewhere to compare it with.
struct Seam {
    double gap = 0.0;           ///< metres (seamGap)
    double medianStep = 0.0;    ///< metres: half of the clip's other steps are smaller
    double velocityBreak = 0.0; ///< metres a second: most that a vertex's velocity jumps over the seam
    double medianBreak = 0.0;   ///< the same for the two steps around each other frame, median
};
/// Frames first .. + count of a clip that plays them at `fps`, one after another.
Seam measureSeam(const Frames& frames, std::size_t first, std::size_t count, double fps);
/// metres: most that a vertex's step changes from before the seam to after it.
double seamJump(const SeamPoses& poses);

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
