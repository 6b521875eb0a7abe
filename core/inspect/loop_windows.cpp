// Stretches of a surveyed clip that loop, measured on their poses.

#include "bake/seam.h"
#include "base/progress.h"
#include "inspect/survey.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <map>
#include <optional>

namespace ripple::inspect {

void sampleFrame(const source::FrameSource& source, std::size_t clip, const bake::ClipExtent& extent,
                 std::size_t frame, std::span<glm::vec3> pose) {
    const source::Clip& of = source.clips()[clip];
    const double seconds = of.start + static_cast<double>(frame) * extent.spacing;
    bake::samplePose(source, extent.motion(source, clip),
                     std::min(seconds, of.start + of.duration + extent.join), pose, {});
}

namespace {

using Pose = base::RawVector<glm::vec3>;

/// Poses of single frames, each read once; none for frames that cannot be read.
class FramesAround {
public:
    inline static const base::Progress kAlone{}; ///< of work that nobody stops

    FramesAround(const source::FrameSource& source, std::size_t clip, const bake::ClipExtent& extent,
                 const base::Progress& progress = kAlone)
        : source_(source),
          clip_(clip),
          extent_(extent),
          progress_(progress) {}

    const Pose* at(std::size_t frame) {
        const auto [place, added] = poses_.try_emplace(frame);
        if (added) {
            progress_.checkpoint();
            place->second.emplace().resize(source_.mesh().vertexCount());
            try {
                sampleFrame(source_, clip_, extent_, frame, *place->second);
            } catch (const base::Failure&) {
                place->second.reset(); // the fault is reported where the frame was read
            }
        }
        return place->second ? &*place->second : nullptr;
    }
    void forget() { poses_.clear(); }

    /// The roughness of six frames in a row; infinite where one of them cannot be read.
    double roughnessOf(const std::array<std::size_t, 6>& frames) {
        std::array<std::span<const glm::vec3>, 6> poses;
        for (std::size_t k = 0; k < poses.size(); ++k) {
            const Pose* pose = at(frames[k]);
            if (!pose) {
                return std::numeric_limits<double>::infinity();
            }
            poses[k] = *pose;
        }
        return bake::roughness(poses);
    }
    double roughnessOf(const LoopWindow& window) {
        const std::size_t a = window.first;
        const std::size_t b = window.last;
        return roughnessOf({b - 2, b - 1, b, a, a + 1, a + 2});
    }

private:
    const source::FrameSource& source_;
    std::size_t clip_;
    const bake::ClipExtent& extent_;
    const base::Progress& progress_;
    std::map<std::size_t, std::optional<Pose>> poses_;
};

/// Median roughness of some steps inside the clip.
double ordinaryRoughness(FramesAround& around, std::size_t frames) {
    constexpr std::size_t kPlaces = 8;
    std::vector<double> rough;
    for (std::size_t i = 0; i < kPlaces && frames >= 6; ++i) {
        const std::size_t f = (frames - 6) * i / (kPlaces - 1);
        rough.push_back(around.roughnessOf({f, f + 1, f + 2, f + 3, f + 4, f + 5}));
        around.forget();
    }
    std::sort(rough.begin(), rough.end());
    return rough.empty() ? 0.0 : rough[rough.size() / 2];
}

/// The window with the smoothest seam of those whose ends lie less than `reach` frames from this one's; all
/// of one length where `length` is not 0.
LoopWindow refined(FramesAround& around, const LoopWindow& coarse, std::size_t frames, std::size_t reach,
                   std::size_t length) {
    LoopWindow best = coarse;
    double smoothest = std::numeric_limits<double>::infinity();
    const std::size_t lowest = coarse.first >= reach ? coarse.first - reach + 1 : 0;
    for (std::size_t a = lowest; a < coarse.first + reach; ++a) {
        const std::size_t from = coarse.last >= reach ? coarse.last - reach + 1 : 0;
        for (std::size_t b = from; b < std::min(coarse.last + reach, frames); ++b) {
            const LoopWindow window{a, b, 0.0f};
            if (b + 1 < a + kShortestWindow || (length > 0 && window.frames() != length)) {
                continue;
            }
            const double rough = around.roughnessOf(window);
            if (rough < smoothest) {
                smoothest = rough;
                best = window;
            }
        }
    }
    best.roughness = static_cast<float>(smoothest);
    return best;
}

} // namespace

std::vector<MeasuredWindow> measuredWindows(const source::FrameSource& source, std::size_t clip,
                                            const ClipSurvey& survey, WindowWish wish,
                                            const base::Progress& progress) {
    constexpr std::size_t kShown = 6;
    std::vector<MeasuredWindow> windows;
    if (!survey.likeness) {
        return windows;
    }
    // From frames of the clip to rows of the map, and back.
    const std::size_t step = survey.likenessStep;
    const std::size_t length = wish.length;
    wish.length /= step;
    const std::size_t frames = survey.extent.frames;
    FramesAround around(source, clip, survey.extent, progress);
    const double smooth = kSmoothSeam * ordinaryRoughness(around, frames);
    for (const LoopWindow& row : bestWindows(*survey.likeness, wish)) {
        progress.checkpoint();
        const LoopWindow coarse{row.first * step, std::min((row.last + 1) * step, frames) - 1, 0.0f};
        const LoopWindow window = refined(around, coarse, frames, step, step > 1 ? length : 0);
        const bool known = std::any_of(windows.begin(), windows.end(),
                                       [&](const MeasuredWindow& one) { return one.window == window; });
        if (std::isfinite(window.roughness) && !known) {
            windows.push_back({window, windowGap(source, clip, survey.extent, window)});
        }
        around.forget();
    }
    std::stable_sort(windows.begin(), windows.end(), [&](const MeasuredWindow& a, const MeasuredWindow& b) {
        const bool exactA = length > 0 && a.window.frames() == length;
        const bool exactB = length > 0 && b.window.frames() == length;
        return exactA != exactB ? exactA : loopsBetter(a.window, b.window, smooth);
    });
    windows.resize(std::min(windows.size(), kShown));
    return windows;
}

double windowGap(const source::FrameSource& source, std::size_t clip, const bake::ClipExtent& extent,
                 const LoopWindow& window) {
    if (window.frames() < 2) {
        return 0.0;
    }
    const std::size_t frames[] = {window.last - 1, window.last, window.first, window.first + 1};
    FramesAround around(source, clip, extent);
    std::array<std::span<const glm::vec3>, 4> poses;
    for (std::size_t i = 0; i < poses.size(); ++i) {
        const Pose* pose = around.at(frames[i]);
        if (!pose) {
            return 0.0;
        }
        poses[i] = *pose;
    }
    return bake::seamGap(bake::SeamPoses{poses[0], poses[1], poses[2], poses[3]});
}

} // namespace ripple::inspect
