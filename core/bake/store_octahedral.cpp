// Octahedral normals: Cigolle et al., "A Survey of Efficient Representations for Independent Unit Vectors"
// (2014). The unit sphere is unfolded onto the square −1..1, whose components are stored as 0..1.

#include "bake/store.h"

#include "base/lanes.h"
#include "code/library.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <vector>

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

using base::Lanes;

/// Four normals in steps of 1/255: of the four steps around the exact place that whose direction is nearest,
/// two thirds of the error of rounding each component by itself (the paper's "precise" variant).
void nearest16(const Lanes& nx, const Lanes& ny, const Lanes& nz, Lanes& bestX, Lanes& bestY) {
    constexpr float kMost = 255.0f;
    const Lanes one = base::lanes(1.0f);
    const Lanes zero = base::lanes(0.0f);
    // As unfold() and fold(), but without a branch.
    const Lanes sum = base::absolute(nx) + base::absolute(ny) + base::absolute(nz);
    const Lanes safe = base::select(sum > zero, sum, one); // no direction at all reads as +Z, which is finite
    const Lanes ex = nx / safe;
    const Lanes ey = ny / safe;
    const Lanes ux =
        base::select(nz >= zero, ex, (one - base::absolute(ey)) * base::select(ex < zero, -one, one));
    const Lanes uy =
        base::select(nz >= zero, ey, (one - base::absolute(ex)) * base::select(ey < zero, -one, one));
    const Lanes last = base::lanes(kMost);
    const Lanes left = base::truncated((ux * 0.5f + 0.5f) * kMost);
    const Lanes top = base::truncated((uy * 0.5f + 0.5f) * kMost);
    const Lanes right = base::least(left + 1.0f, last);
    const Lanes bottom = base::least(top + 1.0f, last);
    bestX = left;
    bestY = top;
    // cos² = along² / length²; comparing the products saves dividing. All four lie within a few degrees.
    Lanes bestAlong = zero;
    Lanes bestLength = one;
    const auto attempt = [&](const Lanes& x, const Lanes& y) {
        const Lanes cx = x * (2.0f / kMost) - 1.0f;
        const Lanes cy = y * (2.0f / kMost) - 1.0f;
        const Lanes cz = 1.0f - base::absolute(cx) - base::absolute(cy);
        const Lanes under = base::most(-cz, zero);
        const Lanes fx = cx + base::select(cx >= zero, -under, under);
        const Lanes fy = cy + base::select(cy >= zero, -under, under);
        const Lanes along = fx * nx + fy * ny + cz * nz;
        const Lanes length = fx * fx + fy * fy + cz * cz;
        const base::IntLanes better = along * along * bestLength > bestAlong * length;
        bestAlong = base::select(better, along * along, bestAlong);
        bestLength = base::select(better, length, bestLength);
        bestX = base::select(better, x, bestX);
        bestY = base::select(better, y, bestY);
    };
    attempt(left, top);
    attempt(right, top);
    attempt(left, bottom);
    attempt(right, bottom);
}

void encode16(std::span<const glm::vec3> normals, std::byte* texels) {
    for (std::size_t first = 0; first < normals.size(); first += base::kLanes) {
        const std::size_t count = std::min(base::kLanes, normals.size() - first);
        Lanes x = base::lanes(0.0f);
        Lanes y = x;
        Lanes z = x;
        for (std::size_t i = 0; i < count; ++i) {
            x[i] = normals[first + i].x;
            y[i] = normals[first + i].y;
            z[i] = normals[first + i].z;
        }
        Lanes stepX;
        Lanes stepY;
        nearest16(x, y, z, stepX, stepY);
        for (std::size_t i = 0; i < count; ++i) {
            texels[0] = static_cast<std::byte>(static_cast<int>(stepX[i]));
            texels[1] = static_cast<std::byte>(static_cast<int>(stepY[i]));
            texels[2] = std::byte{0};
            texels += 3;
        }
    }
}

/// All 65 536 directions, made at first use.
const std::vector<glm::vec3>& directions16() {
    static const std::vector<glm::vec3> kAll = [] {
        std::vector<glm::vec3> all;
        for (int i = 0; i < 256 * 256; ++i) {
            all.push_back(glm::normalize(foldSteps<255>(i % 256, i / 256)));
        }
        return all;
    }();
    return kAll;
}

void decode16(const std::byte* texels, std::span<glm::vec3> normals) {
    const std::vector<glm::vec3>& all = directions16();
    for (glm::vec3& n : normals) {
        n = all[std::to_integer<std::size_t>(texels[1]) * 256 + std::to_integer<std::size_t>(texels[0])];
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

code::Value shader(code::Module& module, const code::Value& texel) {
    return code::unfold(module, texel.type() == code::Base::vec2 ? texel : texel.xy());
}

} // namespace

const NormalStore kOct16Normals = {
    "oct16",
    "2 × 8 bits",
    "Octahedral, two bytes per normal, maximum error 0.64°: half the memory, and it fits into an alpha.",
    image::Pixel::u8,
    2,
    &encode16,
    &decode16,
    0.6358f, // the paper's table for "oct16P"; ours has one step more on each side
    &shader,
};

const NormalStore kOct32Normals = {
    "oct32",   "2 × 16 bits", "Octahedral, four bytes per normal: as good as exact.", image::Pixel::u16, 2,
    &encode32, &decode32,
    0.0075f, // 0.0037 by the paper's table for "oct32", and as much again for single precision
    &shader,
};

} // namespace ripple::bake
