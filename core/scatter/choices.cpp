#include "scatter/choices.h"

#include "base/srgb.h"

#include <algorithm>

namespace ripple::scatter {

double Choices::weightOf(const std::string& clip) const {
    for (const ClipShare& share : mix) {
        if (share.clip == clip) {
            return share.weight;
        }
    }
    return 1.0;
}

std::vector<ClipShare> withWeight(std::vector<ClipShare> mix, const std::string& clip, double weight) {
    const auto found = std::ranges::find_if(mix, [&](const ClipShare& share) { return share.clip == clip; });
    if (found == mix.end()) {
        mix.push_back({clip, weight});
    } else {
        found->weight = weight;
    }
    return mix;
}

glm::vec3 linear(const glm::vec3& srgb) {
    glm::vec3 made(0.0f);
    for (int c = 0; c < 3; ++c) {
        made[c] = base::fromSrgb(srgb[c]);
    }
    return made;
}

} // namespace ripple::scatter
