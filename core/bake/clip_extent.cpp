// How many frames a whole clip has, and what its ends are to each other.

#include "bake/sampling.h"
#include "bake/seam.h"
#include "base/units.h"
#include "mesh/bounds.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <optional>

#include <glm/geometric.hpp>

namespace ripple::bake {

namespace {

/// Ends that differ by less than this part of the model's diagonal are the same pose.
constexpr float kSamePose = 1e-4f;

/// A clip of a whole number of frames must not gain one by rounding (D·X = 90.000000001).
double slack(double frames) {
    return 1e-6 * std::max(1.0, frames);
}

/// The poses at some instants of a clip, each read once.
class Instants {
public:
    Instants(const source::FrameSource& source, std::size_t clip) : source_(source), clip_(clip) {}

    std::span<const glm::vec3> at(double seconds) {
        const auto [place, added] = poses_.try_emplace(seconds);
        if (added) {
            place->second.resize(source_.mesh().vertexCount());
            source_.sample(clip_, seconds, place->second, {});
        }
        return place->second;
    }

private:
    const source::FrameSource& source_;
    std::size_t clip_;
    std::map<double, std::vector<glm::vec3>> poses_;
};

float samePoseLimit(std::span<const glm::vec3> pose) {
    mesh::Bounds bounds;
    bounds.add(pose);
    return kSamePose * bounds.diagonal();
}

bool posesMeet(Instants& instants, double a, double b) {
    const auto first = instants.at(a);
    const auto last = instants.at(b);
    const float limit = samePoseLimit(first);
    for (std::size_t v = 0; v < first.size(); ++v) {
        if (glm::distance(first[v], last[v]) > limit) {
            return false;
        }
    }
    return true;
}

/// Frames of a clip by their number, evenly in time; `count` of them go round.
struct Row {
    double start = 0.0;
    double spacing = 0.0;
    std::size_t count = 0;

    double seconds(std::size_t frame) const { return start + static_cast<double>(frame) * spacing; }
    /// The roughness of the step from frame `from` to the next, wrapping behind frame `count` − 1.
    double roughnessFrom(Instants& instants, std::size_t from) const {
        std::array<std::span<const glm::vec3>, 6> poses;
        for (std::size_t k = 0; k < poses.size(); ++k) {
            poses[k] = instants.at(seconds((from + count + k + 1 - kSeamReach) % count));
        }
        return roughness(poses);
    }
};

/// What the ends of a clip are to each other.
enum class Ends { apart, repeat, leadRound };

/// A seam may be this many times as rough as the rougher of the two steps that lie wholly beside it: what the
/// clip itself shows there, with its noise.
constexpr double kSeamAsElsewhere = 2.0;

/// The ends of `row`, whose last frame is the clip's last and differs from its first.
Ends endsOf(Instants& instants, const Row& row) {
    if (row.count < 2 * kSeamReach + 1) {
        return Ends::apart; // too few to tell a seam from what lies beside it
    }
    const auto smoothSeam = [&](const Row& round) -> std::optional<double> {
        const double seam = round.roughnessFrom(instants, round.count - 1);
        const double beside = std::max(round.roughnessFrom(instants, kSeamReach - 1),
                                       round.roughnessFrom(instants, round.count - 1 - kSeamReach));
        const auto meets = static_cast<double>(samePoseLimit(instants.at(row.start)));
        return seam <= std::max(kSeamAsElsewhere * beside, meets) ? std::optional(seam) : std::nullopt;
    };
    // Noise may hide that the last frame repeats the first: what loops more smoothly without it does.
    const auto whole = smoothSeam(row);
    const auto without = smoothSeam({row.start, row.spacing, row.count - 1});
    if (without && (!whole || *without < *whole)) {
        return Ends::repeat;
    }
    return whole ? Ends::leadRound : Ends::apart;
}

} // namespace

bool askedAtAnyTime(const source::Clip& clip, const Recipe& recipe) {
    const double rate = rateOf(recipe, clip.name);
    return !clip.isSequence() || (rate > 0.0 && std::abs(rate - clip.fps) > 1e-9 * clip.fps);
}

ClipExtent measureClip(const source::FrameSource& source, std::size_t clip, const Recipe& recipe) {
    const source::Clip& of = source.clips()[clip];
    ClipExtent extent;
    const bool closes = closingOf(recipe, of.name) != Closing::asIs;
    if (!of.isSequence() && of.duration <= 0.0) {
        return extent;
    }
    // The step of the source itself, by which its ends are judged.
    const double ownRate = !of.isSequence() && of.keyRate > 0.0 ? of.keyRate : of.fps;
    const auto steps = static_cast<std::size_t>(std::max(1.0, std::round(of.duration * ownRate)));
    const Row row{of.start, of.isSequence() ? 1.0 / of.fps : of.duration / static_cast<double>(steps),
                  of.isSequence() ? of.frames : steps + 1};
    Instants instants(source, clip);
    // Of a clip that can be asked at any time the last instant is the first: there is no frame to leave out.
    const bool mayRepeat = of.isSequence() ? closes && of.frames > 2 : true;
    const Ends ends = mayRepeat && posesMeet(instants, of.start, of.start + of.duration) ? Ends::repeat
                      : closes ? endsOf(instants, row)
                               : Ends::apart;
    extent.leadsRound = ends == Ends::leadRound;
    extent.closed = ends != Ends::apart;
    extent.join = extent.leadsRound ? row.spacing : 0.0;
    if (!askedAtAnyTime(of, recipe)) {
        extent.repeatsFirst = ends == Ends::repeat;
        extent.frames = of.frames - (extent.repeatsFirst ? 1 : 0);
        extent.spacing = 1.0 / of.fps;
        return extent;
    }
    if (of.duration <= 0.0) {
        return {};
    }
    const double asked = rateOf(recipe, of.name);
    const double rate = asked > 0.0 ? asked : of.fps;
    const double seconds = of.duration + extent.join;
    const double frames = seconds * rate;
    constexpr double kMostFrames = 1e6;
    if (!(frames < kMostFrames)) {
        const bool counted = frames < 1e15;
        base::fail("clip \"" + of.name + "\"",
                   "would be " + (counted ? base::countText(static_cast<std::size_t>(frames)) : "endless") +
                       " frames at this rate and speed; a million are the most that are counted",
                   "choose a lower rate or a higher speed, or check the clip's key times");
    }
    if (extent.closed) {
        extent.frames = static_cast<std::size_t>(std::max(1.0, std::round(frames)));
        extent.spacing = seconds / static_cast<double>(extent.frames);
    } else {
        extent.frames = static_cast<std::size_t>(std::ceil(frames - slack(frames))) + 1;
        extent.spacing = 1.0 / rate;
    }
    return extent;
}

ClipMotion ClipExtent::motion(const source::FrameSource& source, std::size_t clip) const {
    ClipMotion whole;
    whole.clip = clip;
    if (closed) {
        const double seconds = static_cast<double>(frames) * spacing;
        whole.loop = {source.clips()[clip].start, seconds, seconds, join};
    }
    return whole;
}

} // namespace ripple::bake
