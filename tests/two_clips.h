#pragma once

#include "analytic_source.h"

namespace ripple::tests {

/// Two clips, one closed and one open, over a mesh of 15 × 15.
class TwoClips : public AnalyticSource {
public:
    TwoClips() : AnalyticSource(15, timed(1.0, 10.0), wave(1.0)) {
        clips_ = {timed(1.0, 10.0), {"rise", 0.0, 0.55, 0, 10.0}};
    }
    std::span<const source::Clip> clips() const override { return clips_; }
    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        AnalyticSource::sample(0, seconds, positions, normals);
        for (std::size_t v = 0; clip == 1 && v < positions.size(); ++v) {
            positions[v] = mesh().positions[v] + glm::vec3(0, static_cast<float>(seconds * seconds), 0);
        }
    }

private:
    std::vector<source::Clip> clips_;
};

} // namespace ripple::tests
