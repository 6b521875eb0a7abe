#include "mesh/bounds.h"

#include "base/lanes.h"

#include <array>

namespace ripple::mesh {

void Bounds::add(std::span<const glm::vec3> points) {
    // x y z x | y z x y | z x y z: after three registers components lie at the same places again.
    constexpr std::size_t kAtOnce = 4; // points
    const auto* from = reinterpret_cast<const float*>(points.data());
    std::array<base::Lanes, 3> low;
    std::array<base::Lanes, 3> high;
    low.fill(base::lanes(std::numeric_limits<float>::infinity()));
    high.fill(base::lanes(-std::numeric_limits<float>::infinity()));
    const std::size_t whole = points.size() / kAtOnce * kAtOnce;
    for (std::size_t i = 0; i < whole; i += kAtOnce, from += 3 * kAtOnce) {
        for (std::size_t r = 0; r < 3; ++r) {
            const base::Lanes own = base::loadLanes(from + r * base::kLanes);
            low[r] = base::least(own, low[r]);
            high[r] = base::most(own, high[r]);
        }
    }
    for (std::size_t k = 0; k < 3 * base::kLanes; ++k) {
        const auto c = static_cast<int>(k % 3);
        const auto lane = static_cast<int>(k % base::kLanes);
        min[c] = std::min(min[c], low[k / base::kLanes][lane]);
        max[c] = std::max(max[c], high[k / base::kLanes][lane]);
    }
    for (const glm::vec3& point : points.subspan(whole)) {
        add(point);
    }
}

} // namespace ripple::mesh
