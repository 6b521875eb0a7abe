#pragma once

#include "bake/recipe.h"
#include "base/no_progress.h"
#include "base/problem.h"
#include "base/raw_vector.h"
#include "source/frame_source.h"

#include <cstddef>
#include <cstdint>
#include <functional>
#include <string>
#include <vector>

#include <glm/fwd.hpp>

namespace ripple::bake {

/// An instant between two kept frames at which the error of blending is measured.
struct Probe {
    std::size_t frame = 0; ///< frame that the clip plays before it
    double fraction = 0.5; ///< 0..1 on the way to the next frame (which may be frame 0 over the seam)
    double seconds = 0.0;  ///< on the source's time line
};

/// How the end of a clip is blended into what comes before its start (docs/definitions.md §1): over the last
/// `length` seconds before `end` the pose goes over to that of `loop` seconds earlier.
struct Fade {
    double end = 0.0;    ///< seconds on the source's time line at which frame 0 comes again
    double length = 0.0; ///< seconds; 0: no fade
    double loop = 0.0;   ///< seconds from start to end

    bool operator==(const Fade&) const = default;
};

/// How the time of a clip goes round (docs/definitions.md §1). All in seconds.
struct Loop {
    double start = 0.0;   ///< on the source's time line
    double seconds = 0.0; ///< of one trip; 0: it plays once
    double own = 0.0;     ///< of the source's whole clip where that closes by itself; else 0
    double join = 0.0;    ///< in which the whole clip's last frame leads on into its first, behind its end

    bool operator==(const Loop&) const = default;
};

/// What motion a clip shows: the source's, faded near its end where that is asked for, played round.
struct ClipMotion {
    std::size_t clip = 0; ///< index into FrameSource::clips()
    Fade fade;
    Loop loop;

    bool operator==(const ClipMotion&) const = default;
};

/// At which times of the source one clip is sampled (docs/definitions.md §5).
struct ClipPlan : ClipMotion {
    std::string name;        ///< in the source
    std::string shippedName; ///< in what is written
    std::optional<Ending> ending;
    std::optional<SpeedRange> speed;
    bool closed = false;         ///< frame N would equal frame 0 and is not stored
    bool repeatDropped = false;  ///< … since the source's last frame, which repeats its first, is left out
    bool leadsRound = false;     ///< … since the source's last frame leads into its first
    double fps = 30.0;           ///< rate at which the kept frames play
    double firstFrame = 0.0;     ///< first kept frame, in sampled frames of the whole clip
    double frameStep = 1.0;      ///< frames that the clip plays lie this many sampled frames apart
    std::size_t frames = 1;      ///< sampled frames of the window
    std::size_t wholeFrames = 1; ///< sampled frames of the whole clip (ClipExtent::frames)
    std::vector<double> seconds; ///< kept frames
    std::vector<Probe> probes;   ///< midpoints; for sequences: the frames left out
    Closing closing = Closing::drop;
    std::vector<std::uint32_t> times; ///< kept frames: which frame of the clip each is; empty: all
    std::size_t length = 0;           ///< frames that the clip plays; more than are kept where it is thinned

    /// Which frame of the clip a kept one is.
    std::size_t played(std::size_t kept) const { return times.empty() ? kept : times[kept]; }
};

struct SamplePlan {
    std::vector<ClipPlan> clips;
    base::Findings findings;
    double askedRate = 0.0;       ///< Recipe::fps that it was made for
    std::size_t oversampling = 1; ///< the same of oversamplingOf()

    std::size_t frameCount() const;
};

/// How many frames the whole clip has at this rate before windows and steps, and whether it is closed.
struct ClipExtent {
    std::size_t frames = 1;
    bool closed = false;
    bool repeatsFirst = false; ///< a sequence whose last frame equals its first, which is then not counted
    bool leadsRound = false;   ///< its last frame leads into its first, which comes one step later
    double spacing = 0.0;      ///< seconds between frames

    /// What the whole clip shows.
    ClipMotion motion(const source::FrameSource& source, std::size_t clip) const;
    double join = 0.0; ///< seconds from the clip's end to its start again, where it leads round
};
/// By Closing::drop, and by each other but Closing::asIs, a clip is closed whose last frame equals its first,
/// or leads into it: the seam is no rougher than the steps beside it (bake::roughness). Reads up to 13 poses.
ClipExtent measureClip(const source::FrameSource& source, std::size_t clip, const Recipe& recipe);

/// True for clips that are sampled at times of the recipe's choice; false for a sequence's own frames.
bool askedAtAnyTime(const source::Clip& clip, const Recipe& recipe);

/// The recipe's clips, all of the source's where it names none.
std::vector<ClipChoice> writtenOut(const source::FrameSource& source, const Recipe& recipe);

/// The recipe's clips, written out, with another window for one of them; it is added if it was not among
/// them.
std::vector<ClipChoice> withWindow(const source::FrameSource& source, const Recipe& recipe, std::size_t clip,
                                   const FrameWindow& window);

/// The same for a window that is played round.
std::vector<ClipChoice> withLoop(const source::FrameSource& source, const Recipe& recipe, std::size_t clip,
                                 const FrameWindow& window);

/// The recipe's clips, written out, with the choice of the one called `name` changed.
std::vector<ClipChoice> withChoice(const source::FrameSource& source, const Recipe& recipe,
                                   const std::string& name, const std::function<void(ClipChoice&)>& change);

/// The recipe's clips, written out, with another way to close one of them.
std::vector<ClipChoice> withClosing(const source::FrameSource& source, const Recipe& recipe, std::size_t clip,
                                    Closing closing);

/// Throws base::Failure for unknown clips, windows outside a clip, a step of 0, a fade for which there are
/// no frames. Reads the source where it must: the ends of clips, and every frame for Recipe::thin.
SamplePlan planSampling(const source::FrameSource& source, const Recipe& recipe,
                        const base::Progress& progress = base::noProgress());

/// The pose of a motion at `seconds` on the source's time line. Spans have one element per vertex; `normals`
/// may be empty.
void samplePose(const source::FrameSource& source, const ClipMotion& motion, double seconds,
                std::span<glm::vec3> positions, std::span<glm::vec3> normals);

/// The same of the transforms of a source's rig, rig()->joints.size() of them. What fades is blended
/// linearly, entry by entry: so it moves the vertices where the blend of their positions is.
void sampleTransforms(const source::FrameSource& source, const ClipMotion& motion, double seconds,
                      std::span<glm::dmat4> transforms);

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

/// Samples the source at the kept frames. Throws base::Failure for poses that are not finite, naming clip,
/// frame and vertex.
Frames sampleFrames(const source::FrameSource& source, const SamplePlan& plan,
                    const base::Progress& progress = base::noProgress());
/// The same at the plan's probes, those of all clips one after another.
Frames sampleProbes(const source::FrameSource& source, const SamplePlan& plan,
                    const base::Progress& progress = base::noProgress());

/// Poses that were sampled before by a plan that keeps more, looked up by their very times.
struct EarlierPoses {
    const SamplePlan* plan = nullptr;
    const Frames* frames = nullptr;
};
/// sampleFrames() and sampleProbes() that ask the source only for poses that are not among the earlier ones.
Frames sampleFrames(const source::FrameSource& source, const SamplePlan& plan, const EarlierPoses& earlier,
                    const base::Progress& progress);
/// Without normals for the poses that are asked for anew.
Frames sampleProbes(const source::FrameSource& source, const SamplePlan& plan, const EarlierPoses& earlier,
                    const base::Progress& progress);

/// Throws base::Failure for a pose of kept frame `frame` that is not finite.
void requireFinite(std::span<const glm::vec3> positions, const ClipPlan& clip, std::size_t frame);

} // namespace ripple::bake
