#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <span>
#include <unordered_map>
#include <vector>

#include <glm/geometric.hpp>
#include <glm/vec3.hpp>

namespace ripple::mesh {

/// Points by the cells of a grid, so that those near a place are found without looking at all.
class PointGrid {
public:
    /// `points` must outlive it. `reach`: how far near() looks, in their unit, above 0. `cell`: at least that;
    /// larger ones are quicker for points that mostly have none near them.
    PointGrid(std::span<const glm::vec3> points, float reach, float cell = 0.0f)
        : points_(points),
          reach_(reach),
          cell_(std::max(reach, cell)) {
        for (std::size_t i = 0; i < points.size(); ++i) {
            cells_[cellOf(points[i])].push_back(static_cast<std::uint32_t>(i));
        }
    }

    /// Calls use(number of a point, its distance) for all that are nearer than the reach; the same places
    /// give the same order.
    template <typename Use>
    void near(const glm::vec3& place, const Use& use) const {
        const Cell from = cellOf(place - reach_);
        const Cell to = cellOf(place + reach_);
        for (std::int64_t x = from[0]; x <= to[0]; ++x) {
            for (std::int64_t y = from[1]; y <= to[1]; ++y) {
                for (std::int64_t z = from[2]; z <= to[2]; ++z) {
                    const auto found = cells_.find({x, y, z});
                    for (const std::uint32_t i :
                         found == cells_.end() ? std::span<const std::uint32_t>() : found->second) {
                        const float apart = glm::distance(place, points_[i]);
                        if (apart < reach_) {
                            use(i, apart);
                        }
                    }
                }
            }
        }
    }

private:
    using Cell = std::array<std::int64_t, 3>;
    struct Hash {
        std::size_t operator()(const Cell& cell) const {
            std::uint64_t hash = 0;
            for (const std::int64_t at : cell) {
                hash = (hash ^ static_cast<std::uint64_t>(at)) * 0x9E3779B97F4A7C15ull;
                hash ^= hash >> 32;
            }
            return hash;
        }
    };
    Cell cellOf(const glm::vec3& place) const {
        const auto of = [&](float at) { return static_cast<std::int64_t>(std::floor(at / cell_)); };
        return {of(place.x), of(place.y), of(place.z)};
    }

    std::span<const glm::vec3> points_;
    float reach_;
    float cell_;
    std::unordered_map<Cell, std::vector<std::uint32_t>, Hash> cells_;
};

} // namespace ripple::mesh
