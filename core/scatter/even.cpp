#include "scatter/even.h"

#include "scatter/copies.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <queue>
#include <span>

#include <glm/geometric.hpp>

namespace ripple::scatter {

namespace {

constexpr std::size_t kCandidates = 4; ///< for each that is kept

/// Places by the cells of a grid, so that what is near is found without looking at all.
class Near {
public:
    Near(const std::vector<glm::vec3>& places, float reach) : places_(places), reach_(reach) {
        for (std::uint32_t i = 0; i < places.size(); ++i) {
            cells_[cellOf(places[i])].push_back(i);
        }
    }

    template <typename Use>
    void each(std::uint32_t of, const Use& use) const {
        const Cell middle = cellOf(places_[of]);
        for (int x = -1; x <= 1; ++x) {
            for (int y = -1; y <= 1; ++y) {
                for (int z = -1; z <= 1; ++z) {
                    const auto found = cells_.find({middle[0] + x, middle[1] + y, middle[2] + z});
                    for (const std::uint32_t other :
                         found == cells_.end() ? std::span<const std::uint32_t>() : found->second) {
                        const float apart = glm::distance(places_[of], places_[other]);
                        if (other != of && apart < reach_) {
                            use(other, apart);
                        }
                    }
                }
            }
        }
    }

private:
    using Cell = std::array<int, 3>;
    Cell cellOf(const glm::vec3& place) const {
        const auto of = [&](float at) { return static_cast<int>(std::floor(at / reach_)); };
        return {of(place.x), of(place.y), of(place.z)};
    }

    const std::vector<glm::vec3>& places_;
    float reach_;
    std::map<Cell, std::vector<std::uint32_t>> cells_;
};

/// The farthest apart that all could be: of circles on a plane, or spheres, packed as densely as they can be.
float farthestApart(std::size_t count, const glm::vec3& size) {
    const double n = static_cast<double>(count);
    const double plane = static_cast<double>(size.x) * static_cast<double>(size.z);
    const double flat = std::sqrt(plane / (2.0 * std::sqrt(3.0) * n));
    const double solid = std::cbrt(plane * static_cast<double>(size.y) / (4.0 * std::sqrt(2.0) * n));
    return static_cast<float>(2.0 * std::max(flat * (size.y > 0.0f ? 0.0 : 1.0), solid));
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
    const Near near(candidates, reach);
    std::vector<float> weights(candidates.size(), 0.0f);
    for (std::uint32_t i = 0; i < candidates.size(); ++i) {
        near.each(i, [&](std::uint32_t, float apart) { weights[i] += weightOf(apart, reach); });
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
        near.each(i, [&](std::uint32_t other, float apart) {
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
