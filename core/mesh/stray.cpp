#include "mesh/stray.h"

#include <algorithm>
#include <cmath>

namespace ripple::mesh {

namespace {

bool finite(const glm::vec3& p) {
    return std::isfinite(p.x) && std::isfinite(p.y) && std::isfinite(p.z);
}

/// The box of the middle 98 % of the finite vertices, axis by axis.
Bounds middle(std::span<const glm::vec3> positions) {
    Bounds box;
    std::vector<float> values;
    glm::vec3 low(0.0f);
    glm::vec3 high(0.0f);
    for (int axis = 0; axis < 3; ++axis) {
        values.clear();
        for (const glm::vec3& p : positions) {
            if (finite(p)) {
                values.push_back(p[axis]);
            }
        }
        if (values.empty()) {
            return box;
        }
        // At least the two outermost are left out of few vertices, or one stray would be "the middle".
        const std::size_t out = values.size() < 4 ? 0 : std::max<std::size_t>(values.size() / 100, 1);
        const auto first = values.begin() + static_cast<std::ptrdiff_t>(out);
        const auto last = values.end() - 1 - static_cast<std::ptrdiff_t>(out);
        std::nth_element(values.begin(), first, values.end());
        low[axis] = *first;
        std::nth_element(values.begin(), last, values.end());
        high[axis] = *last;
    }
    box.add(low);
    box.add(high);
    return box;
}

} // namespace

StrayTest StrayTest::ofPose(std::span<const glm::vec3> positions) {
    return StrayTest(middle(positions).diagonal());
}

std::vector<std::uint32_t> StrayTest::find(std::span<const glm::vec3> positions) const {
    Bounds all;
    bool suspicious = false;
    for (const glm::vec3& p : positions) {
        suspicious = suspicious || !finite(p);
        all.add(p);
    }
    std::vector<std::uint32_t> strays;
    if (!suspicious && all.diagonal() <= kFar * typical_) {
        return strays;
    }
    const Bounds box = middle(positions);
    const float reach = kFar * std::max(box.diagonal(), typical_);
    for (std::size_t v = 0; v < positions.size(); ++v) {
        const glm::vec3 p = positions[v];
        const glm::vec3 away = glm::max(glm::max(box.min - p, p - box.max), glm::vec3(0.0f));
        if (!finite(p) || glm::length(away) > reach) {
            strays.push_back(static_cast<std::uint32_t>(v));
        }
    }
    return strays;
}

} // namespace ripple::mesh
