#pragma once

#include "bake/recipe.h"
#include "base/problem.h"
#include "base/progress.h"
#include "base/raw_vector.h"
#include "source/frame_source.h"

#include <cstddef>
#include <string>
#include <vector>

namespace ripple::bake {

/// An instant between two kept frames at which the error of blending is measured.
struct Probe {
    std::size_t frame = 0; ///< kept frame before it, within the clip
    double fraction = 0.5; ///< 0..1 on the way to the next kept frame (which may be frame 0 over the seam)
    double seconds = 0.0;  ///< on the source's time line
};

/// At which times of the source one clip is sampled (docs/definitions.md §5).
struct ClipPlan {
    std::size_t clip = 0; ///< index into FrameSource::clips()
    std::string name;
    bool closed = false;         ///< frame N would equal frame 0 and is not stored
    double fps = 30.0;           ///< rate at which the kept frames play
    double firstFrame = 0.0;     ///< first kept frame, in sampled frames of the whole clip
    double frameStep = 1.0;      ///< kept frames lie this many sampled frames apart
    std::vector<double> seconds; ///< kept frames
    std::vector<Probe> probes;   ///< midpoints; for sequences: the frames left out
};

struct SamplePlan {
    std::vector<ClipPlan> clips;
    base::Findings findings;

    std::size_t frameCount() const;
};

/// How many frames the whole clip has at this rate before windows and steps, and whether it is closed.
struct ClipExtent {
    std::size_t frames = 1;
    bool closed = false;
    bool repeatsFirst = false; ///< a sequence whose last frame equals its first, which is then not counted
    double spacing = 0.0;      ///< seconds between frames
};
ClipExtent measureClip(const source::FrameSource& source, std::size_t clip, const Recipe& recipe);

/// The recipe's clips, written out, with another window for one of them; it is added if it was not among
/// them.
std::vector<ClipChoice> withWindow(const source::FrameSource& source, const Recipe& recipe, std::size_t clip,
                                   const FrameWindow& window);

/// Throws base::Failure for unknown clips, windows outside a clip, a step of 0.
SamplePlan planSampling(const source::FrameSource& source, const Recipe& recipe);

/// Poses of all kept frames. positions[f · vertices + v], frames of all clips one after another.
struct Frames {
    std::size_t vertices = 0;
    std::size_t frames = 0;
    base::RawVector<glm::vec3> positions;
    base::RawVector<glm::vec3> normals;

    std::span<const glm::vec3> positionsOf(std::size_t frame) const {
        return {positions.data() + frame * vertices, vertices};
    }
    std::span<const glm::vec3> normalsOf(std::size_t frame) const {
        return {normals.data() + frame * vertices, vertices};
    }
};

/// Samples the source. Throws base::Failure for poses that are not finite, naming clip, frame and vertex.
Frames sampleFrames(const source::FrameSource& source, const SamplePlan& plan,
                    const base::Progress& progress = {});

} // namespace ripple::bake
