#include "bake/thinning.h"

#include "base/parallel.h"
#include "base/progress.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <deque>
#include <map>

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace ripple::bake {

namespace {

using Pose = std::vector<glm::vec3>;

/// Instants are counted in eighths of a frame's step.
constexpr std::size_t kEighths = 8;

/// Where the instants of a plan that keeps every frame lie in time.
class Timeline {
public:
    explicit Timeline(const ClipPlan& plan) : plan_(plan) {}

    std::size_t frames() const { return plan_.seconds.size(); }
    /// Steps from one frame to the next, in a closed clip also the one over the seam.
    std::size_t steps() const { return plan_.closed ? frames() : frames() - 1; }
    /// `frame` may be fractional and go up to steps().
    double seconds(double frame) const {
        const auto f = static_cast<std::size_t>(std::min(frame, static_cast<double>(frames() - 1)));
        const double into = frame - static_cast<double>(f);
        if (into <= 0.0) {
            return plan_.seconds[f];
        }
        // The last step of an open clip may be shorter than the others.
        const double next = f + 1 < frames() ? plan_.seconds[f + 1] : plan_.seconds[f] + spacing();
        return plan_.seconds[f] + into * (next - plan_.seconds[f]);
    }

private:
    double spacing() const { return plan_.fps > 0.0 ? 1.0 / plan_.fps : 0.0; }
    const ClipPlan& plan_;
};

/// The largest distance of any vertex from the straight way between two poses, `t` of it gone.
double offStraight(const Pose& from, const Pose& to, float t, const Pose& pose) {
    float most = 0.0f;
    for (std::size_t v = 0; v < pose.size(); ++v) {
        const glm::vec3 off = glm::mix(from[v], to[v], t) - pose[v];
        most = std::max(most, glm::dot(off, off));
    }
    return std::sqrt(static_cast<double>(most));
}

/// How a step from one frame to the next is cut.
struct Cut {
    std::size_t pieces = 1; ///< 1, 2, 4 or 8, of equal length
    double bend = 0.0;      ///< metres: how far from straight its pieces are
};

class Thinner {
public:
    Thinner(const source::FrameSource& source, const ClipPlan& plan, double tolerance,
            const base::Progress& progress)
        : source_(source),
          plan_(plan),
          time_(plan),
          tolerance_(tolerance),
          progress_(progress),
          cuts_(time_.steps()) {}

    void cutSteps() {
        std::atomic<std::size_t> done{0};
        base::parallelFor(cuts_.size(), 1, [&](std::size_t begin, std::size_t end) {
            for (std::size_t f = begin; f < end; ++f) {
                cuts_[f] = cut(f);
                progress_.report(0.5 * static_cast<double>(++done) / static_cast<double>(cuts_.size()));
            }
        });
    }

    Thinning keep() const {
        std::vector<std::size_t> eighths = {0};
        Thinning thinning;
        std::deque<Node> stretch = {{0, poseAt(0.0), 0.0}};
        for (std::size_t f = 0; f < cuts_.size(); ++f) {
            progress_.report(0.5 + 0.5 * static_cast<double>(f) / static_cast<double>(cuts_.size()));
            if (cuts_[f].bend > tolerance_) {
                thinning.beyond = std::max(thinning.beyond, cuts_[f].bend);
            }
            for (std::size_t piece = 1; piece <= cuts_[f].pieces; ++piece) {
                const std::size_t at = f * kEighths + piece * kEighths / cuts_[f].pieces;
                // The end of a closed clip is frame 0 again.
                const bool round = plan_.closed && at == time_.frames() * kEighths;
                stretch.push_back(
                    {at, poseAt(round ? 0.0 : static_cast<double>(at) / kEighths), cuts_[f].bend});
                if (stretch.size() > 2 && (stretch.size() > kLongestStretch + 1 || !blends(stretch))) {
                    eighths.push_back(stretch[stretch.size() - 2].at);
                    stretch.erase(stretch.begin(), stretch.end() - 2);
                }
            }
        }
        if (!plan_.closed && !cuts_.empty()) {
            eighths.push_back(cuts_.size() * kEighths);
        }
        while (thinning.perFrame < kEighths &&
               std::any_of(eighths.begin(), eighths.end(),
                           [&](std::size_t e) { return e % (kEighths / thinning.perFrame) != 0; })) {
            thinning.perFrame *= 2;
        }
        for (const std::size_t e : eighths) {
            thinning.kept.push_back(static_cast<std::uint32_t>(e / (kEighths / thinning.perFrame)));
        }
        return thinning;
    }

private:
    struct Node {
        std::size_t at = 0; ///< eighths
        Pose pose;
        double bend = 0.0; ///< of the way from the node before
    };

    Pose poseAt(double frame) const {
        Pose pose(source_.mesh().vertexCount());
        samplePose(source_, plan_, time_.seconds(frame), pose, {});
        return pose;
    }

    /// The fewest pieces of step `f` that are straight to within a quarter of the tolerance, or eight.
    Cut cut(std::size_t f) const {
        std::map<std::size_t, Pose> poses; // by sixteenths of the step
        const auto pose = [&](std::size_t sixteenth) -> const Pose& {
            const auto [place, added] = poses.try_emplace(sixteenth);
            if (added) {
                place->second = poseAt(static_cast<double>(f) + static_cast<double>(sixteenth) / 16.0);
            }
            return place->second;
        };
        Cut cut;
        for (cut.pieces = 1;; cut.pieces *= 2) {
            cut.bend = 0.0;
            const std::size_t length = 16 / cut.pieces;
            // Each piece is looked at in its quarters, the shortest in their middle.
            const std::size_t apart = std::max<std::size_t>(length / 4, length == 2 ? 1 : 2);
            for (std::size_t at = 0; at < 16; at += apart) {
                if (const std::size_t into = at % length; into != 0) {
                    const std::size_t from = at - into;
                    cut.bend =
                        std::max(cut.bend, offStraight(pose(from), pose(from + length),
                                                       static_cast<float>(into) / static_cast<float>(length),
                                                       pose(at)));
                }
            }
            if (cut.bend <= 0.25 * tolerance_ || cut.pieces == kEighths) {
                return cut;
            }
        }
    }

    /// True if all poses between the first and the last lie near enough to the straight way from the one to
    /// the other.
    bool blends(const std::deque<Node>& stretch) const {
        double bend = 0.0;
        for (std::size_t i = 1; i < stretch.size(); ++i) {
            bend = std::max(bend, stretch[i].bend);
        }
        const double limit = tolerance_ - bend;
        const auto whole = static_cast<float>(stretch.back().at - stretch.front().at);
        std::atomic<bool> fits{limit >= 0.0};
        base::parallelFor(stretch.size() - 2, 1, [&](std::size_t begin, std::size_t end) {
            for (std::size_t i = begin + 1; i < end + 1 && fits; ++i) {
                const float t = static_cast<float>(stretch[i].at - stretch.front().at) / whole;
                if (offStraight(stretch.front().pose, stretch.back().pose, t, stretch[i].pose) > limit) {
                    fits = false;
                }
            }
        });
        return fits;
    }

    const source::FrameSource& source_;
    const ClipPlan& plan_;
    Timeline time_;
    double tolerance_;
    const base::Progress& progress_;
    std::vector<Cut> cuts_; ///< steps
};

} // namespace

Thinning framesToKeep(const source::FrameSource& source, const ClipPlan& plan, bool anyTime, double tolerance,
                      const base::Progress& progress) {
    Thinner thinner(source, plan, tolerance, progress);
    if (anyTime) {
        thinner.cutSteps(); // a sequence is straight between its own frames
    }
    return thinner.keep();
}

void keepOnly(ClipPlan& plan, const Thinning& thinning, bool anyTime) {
    const std::size_t each = thinning.perFrame;
    if (each == 1 && thinning.kept.size() == plan.seconds.size()) {
        return;
    }
    const ClipPlan all = plan;
    const Timeline time(all);
    const std::size_t end = time.steps() * each;
    plan.times = thinning.kept;
    plan.length = all.closed ? end : end + 1;
    plan.fps *= static_cast<double>(each);
    plan.frameStep /= static_cast<double>(each);
    plan.seconds.clear();
    plan.probes.clear();
    const auto probe = [&](double at) {
        const double whole = std::floor(at);
        plan.probes.push_back(
            {static_cast<std::size_t>(whole), at - whole, time.seconds(at / static_cast<double>(each))});
    };
    for (std::size_t k = 0; k < thinning.kept.size(); ++k) {
        const std::size_t from = thinning.kept[k];
        const std::size_t to = k + 1 < thinning.kept.size() ? thinning.kept[k + 1] : all.closed ? end : from;
        plan.seconds.push_back(time.seconds(static_cast<double>(from) / static_cast<double>(each)));
        for (std::size_t at = from; at < to;) {
            const std::size_t next = std::min(to, (at / each + 1) * each); // the next own frame, or kept one
            if (anyTime) {
                probe(0.5 * static_cast<double>(at + next));
            }
            if (next < to) {
                probe(static_cast<double>(next));
            }
            at = next;
        }
    }
}

} // namespace ripple::bake
