#pragma once

#include <array>
#include <cmath>
#include <cstdint>
#include <map>
#include <span>
#include <vector>

#include <glm/geometric.hpp>
#include <glm/vec3.hpp>

namespace ripple::mesh {

/// Points by the cells of a grid, so that those near a place are found without looking at all.
class PointGrid {
public:
    /// `points` must outlive it. `reach`: how far near() looks, in their unit, above 0.
    PointGrid(std::span<const glm::vec3> points, float reach) : points_(points), reach_(reach) {
        for (std::size_t i = 0; i < points.size(); ++i) {
            cells_[cellOf(points[i])].push_back(static_cast<std::uint32_t>(i));
        }
    }

    /// Calls use(number of a point, its distance) for all that are nearer than the reach; the same places
    /// give the same order.
    template <typename Use>
    void near(const glm::vec3& place, const Use& use) const {
        const Cell middle = cellOf(place);
        for (int x = -1; x <= 1; ++x) {
            for (int y = -1; y <= 1; ++y) {
                for (int z = -1; z <= 1; ++z) {
                    const auto found = cells_.find({middle[0] + x, middle[1] + y, middle[2] + z});
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
    Cell cellOf(const glm::vec3& place) const {
        const auto of = [&](float at) { return static_cast<std::int64_t>(std::floor(at / reach_)); };
        return {of(place.x), of(place.y), of(place.z)};
    }

    std::span<const glm::vec3> points_;
    float reach_;
    std::map<Cell, std::vector<std::uint32_t>> cells_;
};

} // namespace ripple::mesh
