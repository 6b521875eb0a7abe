#include "bake/thinning.h"

#include "base/parallel.h"

#include <algorithm>
#include <deque>

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace ripple::bake {

namespace {

using Pose = std::vector<glm::vec3>;

/// True if all poses between the first and the last lie on the straight way from the one to the other.
bool blends(const std::deque<Pose>& poses, double tolerance) {
    const std::size_t between = poses.size() - 2;
    std::vector<char> fits(between, 1);
    const auto limit = static_cast<float>(tolerance * tolerance);
    base::parallelFor(between, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            const float t = static_cast<float>(i + 1) / static_cast<float>(poses.size() - 1);
            const Pose& own = poses[i + 1];
            for (std::size_t v = 0; v < own.size(); ++v) {
                const glm::vec3 off = glm::mix(poses.front()[v], poses.back()[v], t) - own[v];
                if (glm::dot(off, off) > limit) {
                    fits[i] = 0;
                    break;
                }
            }
        }
    });
    return std::find(fits.begin(), fits.end(), 0) == fits.end();
}

} // namespace

std::vector<std::uint32_t> framesToKeep(const source::FrameSource& source, const ClipPlan& plan,
                                        double tolerance, const base::Progress& progress) {
    const std::size_t frames = plan.seconds.size();
    // A closed clip ends at frame 0 again.
    const std::size_t last = plan.closed ? frames : frames - 1;
    const auto poseOf = [&](std::size_t frame) {
        Pose pose(source.mesh().vertexCount());
        samplePose(source, plan, plan.seconds[frame % frames], pose, {});
        return pose;
    };
    std::vector<std::uint32_t> kept = {0};
    std::deque<Pose> stretch = {poseOf(0)};
    for (std::size_t f = 1; f <= last; ++f) {
        progress.report(static_cast<double>(f) / static_cast<double>(last));
        stretch.push_back(poseOf(f));
        if (stretch.size() > 2 && (stretch.size() > kLongestStretch + 1 || !blends(stretch, tolerance))) {
            kept.push_back(static_cast<std::uint32_t>(f - 1));
            stretch.erase(stretch.begin(), stretch.end() - 2);
        }
    }
    if (!plan.closed && last > 0) {
        kept.push_back(static_cast<std::uint32_t>(last));
    }
    return kept;
}

} // namespace ripple::bake
