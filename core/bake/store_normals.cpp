#include "bake/store.h"

#include "code/value.h"

#include <cmath>
#include <cstdint>

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace ripple::bake {

namespace {

void encode(std::span<const glm::vec3> normals, std::byte* texels) {
    const auto* from = reinterpret_cast<const float*>(normals.data());
    for (std::size_t i = 0; i < normals.size() * 3; ++i) {
        const float q = (from[i] * 0.5f + 0.5f) * 255.0f + 0.5f;
        const float inside = q < 0.0f ? 0.0f : q > 255.0f ? 255.0f : q;
        texels[i] = static_cast<std::byte>(static_cast<int>(inside));
    }
}

void decode(const std::byte* texels, std::span<glm::vec3> normals) {
    const auto* from = reinterpret_cast<const std::uint8_t*>(texels);
    for (std::size_t v = 0; v < normals.size(); ++v, from += 3) {
        const glm::vec3 n = glm::vec3(from[0], from[1], from[2]) * (2.0f / 255.0f) - 1.0f;
        normals[v] = glm::normalize(n); // never zero: no 8-bit value decodes to 0
    }
}

code::Value shader(code::Module&, const code::Value& texel) {
    return code::normalize(texel.xyz() * 2.0f - 1.0f);
}

} // namespace

const NormalStore kUnorm8Normals = {
    "unorm8",
    "8 bits, x y z",
    "Three bytes per normal, maximum error 0.4°.",
    image::Pixel::u8,
    3,
    &encode,
    &decode,
    // Each component is off by at most 1/255: √3/255 as an angle, in degrees; and the second order of
    // arcsine.
    0.3895f,
    &shader,
};

const NormalStore kNoNormals = {
    "none",
    "none",
    "Uses the rest pose's normals: right for shapes that move as a whole, or that the engine lights flat.",
    image::Pixel::u8,
    0,
    nullptr,
    nullptr,
    180.0f,
    nullptr,
};

} // namespace ripple::bake
