#include "bake/seam.h"

#include "bake/error.h"
#include "bake/sampling.h"
#include "base/parallel.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::bake {

double seamGap(const SeamPoses& poses) {
    float gap = 0.0f;
    for (std::size_t v = 0; v < poses.start.size(); ++v) {
        const float seam = glm::distance(poses.last[v], poses.start[v]);
        const float neighbours = 0.5f * (glm::distance(poses.before[v], poses.last[v]) +
                                         glm::distance(poses.start[v], poses.second[v]));
        gap = std::max(gap, seam - neighbours);
    }
    return static_cast<double>(gap);
}

double seamGap(const Frames& frames, std::size_t first, std::size_t count) {
    return count < 2 ? 0.0
                     : seamGap(SeamPoses{frames.positionsOf(first + count - 2),
                                         frames.positionsOf(first + count - 1), frames.positionsOf(first),
                                         frames.positionsOf(first + 1)});
}

double seamJump(const SeamPoses& poses) {
    float jump = 0.0f;
    for (std::size_t v = 0; v < poses.start.size(); ++v) {
        jump =
            std::max(jump, glm::distance(poses.last[v] - poses.before[v], poses.second[v] - poses.start[v]));
    }
    return static_cast<double>(jump);
}

Seam measureSeam(const Frames& frames, std::size_t first, std::size_t count, double fps) {
    Seam seam;
    if (count < 2) {
        return seam;
    }
    const auto pose = [&](std::size_t f) { return frames.positionsOf(first + f % count); };
    std::vector<float> steps(count - 1);
    std::vector<float> jumps(count);
    base::parallelFor(count, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t f = begin; f < end; ++f) {
            // The seam as any other place: from frame f − 1 to f, with a step on either side.
            const SeamPoses around{pose(f + count - 2), pose(f + count - 1), pose(f), pose(f + 1)};
            jumps[f] = static_cast<float>(seamJump(around));
            if (f + 1 < count) {
                Motion one;
                one.max.resize(1);
                one.mean.resize(1);
                measureStep(pose(f), pose(f + 1), 0, one);
                steps[f] = one.max[0];
            }
        }
    });
    const auto median = [](std::span<float> values) {
        const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
        std::nth_element(values.begin(), middle, values.end());
        return static_cast<double>(*middle);
    };
    seam.gap = seamGap(frames, first, count);
    seam.velocityBreak = static_cast<double>(jumps[0]) * fps;
    seam.medianStep = median(steps);
    // Beside the seam one of the four poses still lies across it.
    seam.medianBreak = count > 4 ? median(std::span(jumps).subspan(2, count - 3)) * fps : 0.0;
    return seam;
}

double roughness(const std::array<std::span<const glm::vec3>, 6>& poses) {
    float most = 0.0f;
    for (std::size_t v = 0; v < poses[0].size(); ++v) {
        glm::vec3 place(0.0f);
        glm::vec3 velocity(0.0f);
        for (std::size_t k = 0; k < poses.size(); ++k) {
            // Differences from the middle keep their digits far from the origin; the weights add up to 0.
            const glm::vec3 from = poses[k][v] - poses[2][v];
            place += static_cast<float>(kPlaceWeights[k]) * from;
            velocity += static_cast<float>(kVelocityWeights[k]) * from;
        }
        most = std::max(most, glm::dot(place, place) + glm::dot(velocity, velocity));
    }
    return std::sqrt(static_cast<double>(most));
}

} // namespace ripple::bake
