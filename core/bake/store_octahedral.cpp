// Octahedral normals: Cigolle et al., "A Survey of Efficient Representations for Independent Unit Vectors"
// (2014). The unit sphere is unfolded onto the square −1..1, whose components are stored as 0..1.

#include "bake/store.h"

#include <cmath>
#include <cstdint>

#include <glm/geometric.hpp>
#include <glm/vec2.hpp>

namespace ripple::bake {

namespace {

float outward(float x) {
    return x < 0.0f ? -1.0f : 1.0f;
}

glm::vec2 unfold(const glm::vec3& n) {
    const float sum = std::abs(n.x) + std::abs(n.y) + std::abs(n.z);
    if (!(sum > 0.0f)) {
        return {0.0f, 0.0f}; // no direction at all reads as +Z, which is finite
    }
    const glm::vec2 e(n.x / sum, n.y / sum);
    if (n.z >= 0.0f) {
        return e;
    }
    return {(1.0f - std::abs(e.y)) * outward(e.x), (1.0f - std::abs(e.x)) * outward(e.y)};
}

/// Not of unit length.
glm::vec3 fold(const glm::vec2& e) {
    glm::vec3 n(e.x, e.y, 1.0f - std::abs(e.x) - std::abs(e.y));
    const float under = n.z < 0.0f ? -n.z : 0.0f;
    n.x += n.x >= 0.0f ? -under : under;
    n.y += n.y >= 0.0f ? -under : under;
    return n;
}

/// Where `e` lies in steps of the store, and the step under it.
template <int Most>
glm::vec2 stepsOf(const glm::vec2& e) {
    return (e * 0.5f + 0.5f) * static_cast<float>(Most);
}

template <int Most>
glm::vec3 foldSteps(int x, int y) {
    return fold(glm::vec2(static_cast<float>(x), static_cast<float>(y)) * (2.0f / static_cast<float>(Most)) -
                1.0f);
}

int inside(int step, int most) {
    return step < 0 ? 0 : step > most ? most : step;
}

/// Of the four steps around the exact place, that whose direction is nearest: two thirds of the error of
/// rounding each component by itself (the paper's "precise" variant).
void encode16(std::span<const glm::vec3> normals, std::byte* texels) {
    constexpr int kMost = 255;
    for (const glm::vec3& n : normals) {
        const glm::vec2 at = stepsOf<kMost>(unfold(n));
        const int left = inside(static_cast<int>(at.x), kMost);
        const int top = inside(static_cast<int>(at.y), kMost);
        int bestX = left;
        int bestY = top;
        // cos² = along² / length²; comparing the products saves dividing. All four lie within a few degrees.
        float bestAlong = 0.0f;
        float bestLength = 1.0f;
        for (int corner = 0; corner < 4; ++corner) {
            const int x = inside(left + (corner & 1), kMost);
            const int y = inside(top + (corner >> 1), kMost);
            const glm::vec3 read = foldSteps<kMost>(x, y);
            const float along = glm::dot(read, n);
            const float length = glm::dot(read, read);
            if (along * along * bestLength > bestAlong * length) {
                bestAlong = along * along;
                bestLength = length;
                bestX = x;
                bestY = y;
            }
        }
        texels[0] = static_cast<std::byte>(bestX);
        texels[1] = static_cast<std::byte>(bestY);
        texels[2] = std::byte{0};
        texels += 3;
    }
}

void decode16(const std::byte* texels, std::span<glm::vec3> normals) {
    for (glm::vec3& n : normals) {
        n = glm::normalize(foldSteps<255>(std::to_integer<int>(texels[0]), std::to_integer<int>(texels[1])));
        texels += 3;
    }
}

void encode32(std::span<const glm::vec3> normals, std::byte* texels) {
    constexpr int kMost = 65535;
    auto* to = reinterpret_cast<std::uint16_t*>(texels);
    for (const glm::vec3& n : normals) {
        const glm::vec2 at = stepsOf<kMost>(unfold(n));
        to[0] = static_cast<std::uint16_t>(inside(static_cast<int>(at.x + 0.5f), kMost));
        to[1] = static_cast<std::uint16_t>(inside(static_cast<int>(at.y + 0.5f), kMost));
        to[2] = 0;
        to += 3;
    }
}

void decode32(const std::byte* texels, std::span<glm::vec3> normals) {
    const auto* from = reinterpret_cast<const std::uint16_t*>(texels);
    for (glm::vec3& n : normals) {
        n = glm::normalize(foldSteps<65535>(from[0], from[1]));
        from += 3;
    }
}

constexpr const char* kGlsl = "@id@_unfold(texel.xy)";

} // namespace

const NormalStore kOct16Normals = {
    "oct16",
    "2 × 8 bits",
    "Octahedral, two bytes a normal and off by at most 0.64°: half the memory, and it fits into an alpha.",
    image::Pixel::u8,
    2,
    &encode16,
    &decode16,
    0.6358f, // the paper's table for "oct16P"; ours has one step more on each side
    kGlsl,
};

const NormalStore kOct32Normals = {
    "oct32",   "2 × 16 bits", "Octahedral, four bytes a normal: as good as exact.", image::Pixel::u16, 2,
    &encode32, &decode32,
    0.0075f, // 0.0037 by the paper's table for "oct32", and as much again for single precision
    kGlsl,
};

} // namespace ripple::bake
