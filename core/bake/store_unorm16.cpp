#include "bake/store.h"

#include "code/value.h"

#include <array>
#include <cstdint>
#include <cmath>
#include <limits>

#include <glm/common.hpp>

namespace ripple::bake {

namespace {

constexpr float kSteps = 65535.0f;
// x y z x y z … : eight vectors' components, so that loops over flat floats can use whole registers.
constexpr std::size_t kBlock = 24;
using Pattern = std::array<float, kBlock>;

Pattern repeat(const glm::vec3& v) {
    Pattern pattern{};
    for (std::size_t i = 0; i < kBlock; ++i) {
        pattern[i] = v[static_cast<int>(i % 3)];
    }
    return pattern;
}

/// Steps per metre; 0 where the axis does not vary, so that everything decodes to its minimum.
glm::vec3 stepsPerUnit(const Range& range) {
    glm::vec3 steps(0.0f);
    for (int a = 0; a < 3; ++a) {
        const float size = range.max[a] - range.min[a];
        steps[a] = size > 0.0f ? kSteps / size : 0.0f;
    }
    return steps;
}

std::uint16_t quantise(float value, float low, float steps) {
    // Adding a half and cutting rounds to nearest for the non-negative numbers here.
    const float q = (value - low) * steps + 0.5f;
    const float inside = q < 0.0f ? 0.0f : q > kSteps ? kSteps : q;
    return static_cast<std::uint16_t>(static_cast<int>(inside));
}

#if defined(__x86_64__) && !defined(__SANITIZE_THREAD__) && !defined(__SANITIZE_ADDRESS__)
#define RIPPLE_CLONES __attribute__((target_clones("avx2", "default")))
#else
#define RIPPLE_CLONES
#endif

RIPPLE_CLONES void encodeBlocks(const float* from, std::size_t blocks, const Pattern& low,
                                const Pattern& steps, std::uint16_t* to) {
    for (std::size_t b = 0; b < blocks; ++b) {
        for (std::size_t i = 0; i < kBlock; ++i) {
            to[b * kBlock + i] = quantise(from[b * kBlock + i], low[i], steps[i]);
        }
    }
}

RIPPLE_CLONES void decodeBlocks(const std::uint16_t* from, std::size_t blocks, const Pattern& low,
                                const Pattern& size, float* to) {
    for (std::size_t b = 0; b < blocks; ++b) {
        for (std::size_t i = 0; i < kBlock; ++i) {
            to[b * kBlock + i] = low[i] + static_cast<float>(from[b * kBlock + i]) / kSteps * size[i];
        }
    }
}

void encode(std::span<const glm::vec3> values, const Range& range, std::byte* const* planes) {
    quantise16(values, range, reinterpret_cast<std::uint16_t*>(planes[0]));
}

void decode(const std::byte* const* planes, const Range& range, std::span<glm::vec3> values) {
    restore16(reinterpret_cast<const std::uint16_t*>(planes[0]), range, values);
}

code::Value shaderAlpha(std::span<const code::Value> planes) {
    return bytesOf(code::floor(planes[0].w() * kSteps + 0.5f));
}

} // namespace

void quantise16(std::span<const glm::vec3> values, const Range& range, std::uint16_t* to) {
    const auto* from = reinterpret_cast<const float*>(values.data());
    const Pattern low = repeat(range.min);
    const Pattern steps = repeat(stepsPerUnit(range));
    const std::size_t count = values.size() * 3;
    encodeBlocks(from, count / kBlock, low, steps, to);
    for (std::size_t i = count / kBlock * kBlock; i < count; ++i) {
        to[i] = quantise(from[i], low[i % kBlock], steps[i % kBlock]);
    }
}

void restore16(const std::uint16_t* from, const Range& range, std::span<glm::vec3> values) {
    auto* to = reinterpret_cast<float*>(values.data());
    const Pattern low = repeat(range.min);
    const Pattern size = repeat(range.max - range.min);
    const std::size_t count = values.size() * 3;
    decodeBlocks(from, count / kBlock, low, size, to);
    for (std::size_t i = count / kBlock * kBlock; i < count; ++i) {
        to[i] = low[i % kBlock] + static_cast<float>(from[i]) / kSteps * size[i % kBlock];
    }
}

/// Half a step, and the rounding of the float arithmetic on both ways (a few units in the last place of the
/// largest number that takes part).
glm::vec3 errorBound16(const Range& range) {
    const glm::vec3 size = range.max - range.min;
    const glm::vec3 largest = glm::max(glm::max(glm::abs(range.min), glm::abs(range.max)), size);
    return size / (2.0f * kSteps) + largest * (4.0f * std::numeric_limits<float>::epsilon());
}

const PositionStore kUnorm16Store = {
    "unorm16",
    "16-bit range",
    "Even steps over the range of the motion: the most precise 16 bits; the range must reach the shader.",
    image::Pixel::u16,
    1,
    true,
    std::numeric_limits<float>::max(),
    &encode,
    &decode,
    &errorBound16,
    &asSampled,
    &shaderAlpha,
};

} // namespace ripple::bake
