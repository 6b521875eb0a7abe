#include "bundle/missampling.h"

#include "image/texels.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <Imath/half.h>

namespace ripple::bundle {

glm::vec2 asHalf(const glm::vec2& uv) {
    return {Imath::half(uv.x), Imath::half(uv.y)};
}

namespace {

/// Where along one side a sample lies: the texels before and after it, and the weight of the second.
struct Between {
    std::size_t first = 0;
    std::size_t second = 0;
    float weight = 0.0f;
};

Between between(float uv, std::size_t size, bool linear) {
    const auto last = static_cast<float>(size - 1);
    const auto clamped = [&](float at) { return static_cast<std::size_t>(std::clamp(at, 0.0f, last)); };
    const float at = uv * static_cast<float>(size);
    if (!linear) {
        const std::size_t hit = clamped(std::floor(at));
        return {hit, hit, 0.0f};
    }
    const float low = std::floor(at - 0.5f);
    constexpr float kSteps = 256.0f; // of weights, as hardware has them (Direct3D 11.3, 7.18.8)
    return {clamped(low), clamped(low + 1.0f), std::round((at - 0.5f - low) * kSteps) / kSteps};
}

} // namespace

image::Image sampledSo(const Sampling& sampling, const image::Image& image, std::size_t rowsPerBlock) {
    image::Image made = image;
    const auto width = static_cast<float>(image.width);
    const auto height = static_cast<float>(image.height);
    const float centre = sampling.atEdges ? 0.0f : 0.5f;
    const float blockHeight = static_cast<float>(rowsPerBlock) / height;
    for (std::size_t y = 0; y < image.height; ++y) {
        for (std::size_t x = 0; x < image.width; ++x) {
            float u = (static_cast<float>(x) + centre) / width;
            float v = (static_cast<float>(y % rowsPerBlock) + centre) / height;
            if (sampling.halfUvs) {
                const glm::vec2 rounded = asHalf({u, v});
                u = rounded.x;
                v = rounded.y;
            }
            v = sampling.vTurned ? 1.0f - v : v;
            v += static_cast<float>(y / rowsPerBlock) * blockHeight;
            const Between across = between(u, image.width, sampling.linear);
            const Between down = between(v, image.height, sampling.linear);
            for (std::size_t c = 0; c < image.channels; ++c) {
                const auto along = [&](std::size_t row) {
                    return std::lerp(valueAt(image, across.first, row, c),
                                     valueAt(image, across.second, row, c), across.weight);
                };
                setValue(made, x, y, c, std::lerp(along(down.first), along(down.second), down.weight));
            }
        }
    }
    return made;
}

void sampleSo(const Sampling& sampling, bake::TextureSet& set) {
    for (std::size_t t = 0; t < set.images.size(); ++t) {
        if (set.textures[t].inBlocks && !set.joints.inUvs) {
            set.images[t] = sampledSo(sampling, set.images[t], set.layout.rowsPerBlock);
        }
    }
    for (glm::vec3& pivot : set.pivots) {
        pivot = sampling.halfUvs ? glm::vec3(asHalf({pivot.x, pivot.y}), asHalf({pivot.z, 0.0f}).x) : pivot;
        pivot.y = sampling.vTurned ? 1.0f - pivot.y : pivot.y;
    }
}

} // namespace ripple::bundle
