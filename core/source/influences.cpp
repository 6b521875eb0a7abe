#include "source/influences.h"

#include <algorithm>

namespace ripple::source {

void addInfluences(Influences& influences, const SkinWeights& weights, std::size_t vertex, float factor) {
    for (std::size_t i = 0; i < weights.influences; ++i) {
        const std::size_t slot = vertex * weights.influences + i;
        if (weights.weights[slot] <= 0.0f) {
            continue;
        }
        const auto same = std::find_if(influences.begin(), influences.end(), [&](const auto& influence) {
            return influence.first == weights.joints[slot];
        });
        if (same != influences.end()) {
            same->second += factor * weights.weights[slot];
        } else {
            influences.emplace_back(weights.joints[slot], factor * weights.weights[slot]);
        }
    }
}

SkinWeights packInfluences(const std::vector<Influences>& vertices) {
    std::size_t most = 1;
    for (const Influences& influences : vertices) {
        most = std::max(most, influences.size());
    }
    SkinWeights packed;
    packed.influences = most <= 4 ? 4 : most <= 8 ? 8 : most;
    packed.joints.assign(vertices.size() * packed.influences, 0);
    packed.weights.assign(vertices.size() * packed.influences, 0.0f);
    for (std::size_t v = 0; v < vertices.size(); ++v) {
        for (std::size_t i = 0; i < vertices[v].size(); ++i) {
            packed.joints[v * packed.influences + i] = vertices[v][i].first;
            packed.weights[v * packed.influences + i] = vertices[v][i].second;
        }
    }
    return packed;
}

void strongestFirst(Influences& influences) {
    std::stable_sort(influences.begin(), influences.end(),
                     [](const auto& a, const auto& b) { return a.second > b.second; });
}

} // namespace ripple::source
