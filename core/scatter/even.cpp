#include "scatter/even.h"

#include "mesh/point_grid.h"
#include "scatter/copies.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <queue>

namespace ripple::scatter {

namespace {

constexpr std::size_t kCandidates = 4; ///< for each that is kept

/// The farthest apart that all could be: of circles on the box's largest side, of spheres in it, packed as
/// densely as they can be, or of points along its longest edge; whichever is the most, since a thin box is as
/// a sheet or a line.
float farthestApart(std::size_t count, const glm::vec3& size) {
    const double n = static_cast<double>(count);
    std::array<double, 3> edges = {static_cast<double>(size.x), static_cast<double>(size.y),
                                   static_cast<double>(size.z)};
    std::ranges::sort(edges, std::greater());
    const double line = edges[0] / n;
    const double flat = 2.0 * std::sqrt(edges[0] * edges[1] / (2.0 * std::sqrt(3.0) * n));
    const double solid = 2.0 * std::cbrt(edges[0] * edges[1] * edges[2] / (4.0 * std::sqrt(2.0) * n));
    return static_cast<float>(std::max({line, flat, solid}));
}

/// How much a neighbour weighs: (1 − d / 2r)⁸, as the paper has it.
float weightOf(float apart, float reach) {
    const float w = 1.0f - apart / reach;
    const float w2 = w * w;
    const float w4 = w2 * w2;
    return w4 * w4;
}

} // namespace

std::vector<glm::vec3> spreadEvenly(std::size_t count, const glm::vec3& size, std::uint32_t seed) {
    std::vector<glm::vec3> candidates(kCandidates * count);
    for (std::uint32_t i = 0; i < candidates.size(); ++i) {
        candidates[i] = {(hashed(seed, i, Purpose::place, 0) - 0.5f) * size.x,
                         (hashed(seed, i, Purpose::place, 1) - 0.5f) * size.y,
                         (hashed(seed, i, Purpose::place, 2) - 0.5f) * size.z};
    }
    const float reach = std::max(farthestApart(count, size), 1e-12f);
    const mesh::PointGrid grid(candidates, reach);
    std::vector<float> weights(candidates.size(), 0.0f);
    for (std::uint32_t i = 0; i < candidates.size(); ++i) {
        grid.near(candidates[i], [&](std::uint32_t other, float apart) {
            weights[i] += other != i ? weightOf(apart, reach) : 0.0f;
        });
    }
    // The heaviest first; entries that are no longer true are passed over.
    std::priority_queue<std::pair<float, std::uint32_t>> heaviest;
    for (std::uint32_t i = 0; i < candidates.size(); ++i) {
        heaviest.emplace(weights[i], i);
    }
    std::vector<char> out(candidates.size(), 0);
    for (std::size_t left = candidates.size(); left > count;) {
        const auto [weight, i] = heaviest.top();
        heaviest.pop();
        if (out[i] || weight != weights[i]) {
            continue;
        }
        out[i] = 1;
        --left;
        grid.near(candidates[i], [&](std::uint32_t other, float apart) {
            if (!out[other]) {
                weights[other] = std::max(weights[other] - weightOf(apart, reach), 0.0f);
                heaviest.emplace(weights[other], other);
            }
        });
    }
    std::vector<glm::vec3> kept;
    for (std::size_t i = 0; i < candidates.size(); ++i) {
        if (!out[i]) {
            const auto part = [](float at, float whole) { return whole > 0.0f ? at / whole : 0.0f; };
            kept.push_back({part(candidates[i].x, size.x), part(candidates[i].y, size.y),
                            part(candidates[i].z, size.z)});
        }
    }
    return kept;
}

} // namespace ripple::scatter
