#include "bake/store.h"

#include "code/value.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <limits>

namespace ripple::bake {

namespace {

constexpr std::size_t kBlock = 256; // values at a time, so that the 16 bits stay in the cache

void encode(std::span<const glm::vec3> values, const Range& range, std::byte* const* planes) {
    std::array<std::uint16_t, kBlock * 3> whole{};
    for (std::size_t v = 0; v < values.size(); v += kBlock) {
        const std::size_t count = std::min(kBlock, values.size() - v);
        quantise16(values.subspan(v, count), range, whole.data());
        for (std::size_t i = 0; i < count * 3; ++i) {
            planes[0][v * 3 + i] = static_cast<std::byte>(whole[i] >> 8);
            planes[1][v * 3 + i] = static_cast<std::byte>(whole[i] & 255);
        }
    }
}

void decode(const std::byte* const* planes, const Range& range, std::span<glm::vec3> values) {
    std::array<std::uint16_t, kBlock * 3> whole{};
    for (std::size_t v = 0; v < values.size(); v += kBlock) {
        const std::size_t count = std::min(kBlock, values.size() - v);
        for (std::size_t i = 0; i < count * 3; ++i) {
            const auto high = std::to_integer<unsigned>(planes[0][v * 3 + i]);
            const auto low = std::to_integer<unsigned>(planes[1][v * 3 + i]);
            whole[i] = static_cast<std::uint16_t>(high << 8 | low);
        }
        restore16(whole.data(), range, values.subspan(v, count));
    }
}

code::Value shader(std::span<const code::Value> planes) {
    return (planes[0] * 256.0f + planes[1]) * 255.0f / 65535.0f;
}

code::Value shaderAlpha(std::span<const code::Value> planes) {
    return code::make(code::Base::vec2, {planes[0].w(), planes[1].w()});
}

} // namespace

const PositionStore kUnorm8x2Store = {
    "unorm8x2",
    "2 × 8-bit",
    "As precise as the 16-bit range, in two 8-bit textures: for targets that read nothing deeper.",
    image::Pixel::u8,
    2,
    true,
    std::numeric_limits<float>::max(),
    &encode,
    &decode,
    &errorBound16,
    &shader,
    &shaderAlpha,
};

} // namespace ripple::bake
