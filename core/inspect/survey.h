#pragma once

#include "bake/error.h"
#include "bake/sampling.h"
#include "base/no_progress.h"
#include "inspect/likeness.h"
#include "mesh/bounds.h"
#include "source/frame_source.h"

#include <functional>
#include <memory>
#include <vector>

namespace ripple::inspect {

/// A frame that could not be read or does not fit the first.
struct FrameFault {
    std::size_t clip = 0;
    std::size_t frame = 0;
    base::Problem problem;
};

/// Vertices of a frame that are not finite or far from all others.
struct Strays {
    std::size_t clip = 0;
    std::size_t frame = 0;
    std::vector<std::uint32_t> vertices; ///< the first few; none after the first frames that have any
    std::size_t count = 0;
    bool finite = true; ///< all of them are far away rather than not finite
};

/// A stretch that would loop, with what its seam would show.
struct MeasuredWindow {
    LoopWindow window; ///< in frames of the clip; its roughness is that of the worst vertex (bake::roughness)
    double gap = 0.0;  ///< metres, as bake::seamGap
};

/// One clip as a whole, at its own rate: no window, no step.
struct ClipSurvey {
    bake::ClipExtent extent;
    std::size_t framesRead = 0; ///< so far
    bake::Motion motion;        ///< extent.frames; steps from or to a frame that could not be read are 0
    double gap = 0.0;           ///< metres at the seam (bake::seamGap)
    double velocityBreak = 0.0; ///< metres a second: most that a vertex's velocity jumps over the seam
    mesh::Bounds bounds;
    std::shared_ptr<const Likeness> likeness; ///< null until all frames are read, and for fewer than 4
    std::size_t likenessStep = 1;             ///< frames per row of the likeness
    std::vector<MeasuredWindow> windows;      ///< best first, in frames of the clip
};

/// What reading every frame once tells of a source.
struct Survey {
    std::vector<ClipSurvey> clips;
    std::vector<FrameFault> faults;
    std::vector<Strays> strays;
    std::vector<char> moves; ///< vertices
    std::size_t still = 0;   ///< vertices that never move
    mesh::Bounds bounds;     ///< of all motion
    std::size_t framesRead = 0;
    std::size_t framesTotal = 0;
    bool complete = false;
};

/// Memory for the poses that the likeness is made from; more than that and it takes some of the vertices.
constexpr std::size_t kLikenessBytes = std::size_t{256} << 20;

/// Reads all frames of all clips once, several at a time, keeping no more than a few. `onPart` is called now
/// and then, on this thread, with what is known so far. Faults do not stop it.
std::shared_ptr<const Survey> survey(const source::FrameSource& source, const bake::Recipe& recipe,
                                     base::Progress& progress,
                                     const std::function<void(std::shared_ptr<const Survey>)>& onPart = {});

/// The windows of a surveyed clip that loop best, best first (loopsBetter); for a wanted length (frames),
/// those of just that length before others. At most six; none without a likeness. Reads the frames on either
/// side of each seam, and where the likeness leaves frames out those around it, to find it to the frame.
std::vector<MeasuredWindow> measuredWindows(const source::FrameSource& source, std::size_t clip,
                                            const ClipSurvey& survey, WindowWish wish,
                                            const base::Progress& progress = base::noProgress());

/// Positions of one frame of a whole clip, vertices. Throws base::Failure for a frame that cannot be read.
void sampleFrame(const source::FrameSource& source, std::size_t clip, const bake::ClipExtent& extent,
                 std::size_t frame, std::span<glm::vec3> pose);

/// The gap at the seam of frames first..last of a clip, as bake::seamGap.
double windowGap(const source::FrameSource& source, std::size_t clip, const bake::ClipExtent& extent,
                 const LoopWindow& window);

} // namespace ripple::inspect
