#include "bundle/instants.h"

#include <algorithm>

namespace ripple::bundle {

std::vector<Instant> someInstants(std::span<const bake::BakedClip> clips) {
    constexpr int kSteps = 12;
    std::vector<Instant> instants;
    for (std::size_t c = 0; c < clips.size(); ++c) {
        const auto length = static_cast<float>(clips[c].length());
        const float last = std::max(clips[c].closed ? length - 0.5f : length - 1.0f, 0.0f);
        for (int k = 0; k <= kSteps; ++k) {
            instants.push_back({c, last * static_cast<float>(k) / kSteps});
        }
    }
    return instants;
}

} // namespace ripple::bundle
