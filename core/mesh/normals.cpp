#include "mesh/normals.h"

#include "base/lanes.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <functional>
#include <string>
#include <unordered_map>

#include <glm/geometric.hpp>
#include <glm/trigonometric.hpp>
#include <glm/vec4.hpp>

namespace ripple::mesh {

namespace {

using base::Lanes;

/// Triangles that are computed with at once.
constexpr std::size_t kAtOnce = base::kLanes;

/// A sum of this part of the areas that went into it, or less, is what rounding leaves of no area at all;
/// what is a little larger has a direction that rounding turns by some two degrees at most.
constexpr float kNoDirection = 4e-6f;

struct Vectors {
    Lanes x;
    Lanes y;
    Lanes z;
};

Vectors operator-(const Vectors& a, const Vectors& b) {
    return {a.x - b.x, a.y - b.y, a.z - b.z};
}

Lanes dot(const Vectors& a, const Vectors& b) {
    return a.x * b.x + a.y * b.y + a.z * b.z;
}

Vectors cross(const Vectors& a, const Vectors& b) {
    return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}

/// The angle in 0..π whose sine and cosine are to each other as `y` (not below 0) and `x`; exact to 3e-7. By
/// the arc tangent of the Cephes library (S. Moshier, 1992): folded at tan π/8, then a polynomial.
Lanes angleOf(const Lanes& y, const Lanes& x) {
    const Lanes zero = base::lanes(0.0f);
    const Lanes size = base::absolute(x);
    const base::IntLanes steep = y > size;
    const Lanes large = base::most(base::select(steep, y, size), base::lanes(1e-37f));
    const Lanes t = base::select(steep, size, y) / large; // 0..1
    const base::IntLanes outer = t > base::lanes(0.41421356f);
    const Lanes folded = base::select(outer, (t - 1.0f) / (t + 1.0f), t);
    const Lanes q = folded * folded;
    const Lanes series =
        folded +
        folded * q *
            (-3.33329491539e-1f + q * (1.99777106478e-1f + q * (-1.38776856032e-1f + q * 8.05374449538e-2f)));
    const Lanes eighth = series + base::select(outer, base::lanes(0.78539816f), zero);
    const Lanes quarter = base::select(steep, 1.57079633f - eighth, eighth);
    return base::select(x < zero, 3.14159265f - quarter, quarter);
}

/// x, y, z of a sum of normals, and w of the areas that it was made of: as one register.
using Sum = Lanes;

/// What one corner of four triangles adds.
void addCorners(const Vectors& twiceArea, const Lanes& angle, const Lanes& room, const std::uint32_t* corners,
                Sum* sums) {
    for (std::size_t i = 0; i < kAtOnce; ++i) {
        const auto lane = static_cast<int>(i);
        const Sum weighted = {twiceArea.x[lane], twiceArea.y[lane], twiceArea.z[lane], room[lane]};
        sums[corners[3 * i]] += weighted * angle[lane];
    }
}

bool isUnit(float length2) {
    return std::abs(length2 - 1.0f) < 2e-3f;
}

} // namespace

NormalBuilder::NormalBuilder(std::span<const std::uint32_t> indices, std::size_t vertexCount,
                             std::span<const std::uint32_t> smoothGroup)
    : indices_(indices.begin(), indices.end() - static_cast<std::ptrdiff_t>(indices.size() % 3)),
      group_(vertexCount) {
    for (std::size_t v = 0; v < vertexCount; ++v) {
        group_[v] = smoothGroup.empty() ? static_cast<std::uint32_t>(v) : smoothGroup[v];
        groups_ = std::max(groups_, std::size_t{group_[v]} + 1);
        grouped_ = grouped_ || group_[v] != v;
    }
    if (vertexCount > 0) {
        indices_.resize((indices_.size() / 3 + kAtOnce - 1) / kAtOnce * kAtOnce * 3, 0);
    }
    if (!grouped_) {
        group_ = {}; // each vertex is its own
        return;
    }
    corners_.reserve(indices_.size());
    for (const std::uint32_t index : indices_) {
        corners_.push_back(group_[index]);
    }
}

void NormalBuilder::build(std::span<const glm::vec3> positions, std::span<glm::vec3> normals) const {
    // In the order of the triangles, so that sums do not depend on anything else.
    std::vector<Sum> sums(groups_, Sum{});
    const std::uint32_t* corners = grouped_ ? corners_.data() : indices_.data();
    for (std::size_t at = 0; at < indices_.size(); at += 3 * kAtOnce) {
        const auto corner = [&](std::size_t k) {
            const glm::vec3& a = positions[indices_[at + k]];
            const glm::vec3& b = positions[indices_[at + k + 3]];
            const glm::vec3& c = positions[indices_[at + k + 6]];
            const glm::vec3& d = positions[indices_[at + k + 9]];
            return Vectors{{a.x, b.x, c.x, d.x}, {a.y, b.y, c.y, d.y}, {a.z, b.z, c.z, d.z}};
        };
        const Vectors pa = corner(0);
        const Vectors pb = corner(1);
        const Vectors pc = corner(2);
        const Vectors ab = pb - pa;
        const Vectors ac = pc - pa;
        const Vectors bc = pc - pb;
        const Vectors twiceArea = cross(ab, ac);
        const Lanes area = base::squareRoot(dot(twiceArea, twiceArea));
        const Lanes atA = angleOf(area, dot(ab, ac));
        const Lanes atB = angleOf(area, -dot(ab, bc));
        const Lanes atC = base::most(3.14159265f - atA - atB, base::lanes(0.0f));
        // The largest area that edges of these lengths could enclose.
        const Lanes room = dot(ab, ab) + dot(ac, ac);
        addCorners(twiceArea, atA, room, corners + at, sums.data());
        addCorners(twiceArea, atB, room, corners + at + 1, sums.data());
        addCorners(twiceArea, atC, room, corners + at + 2, sums.data());
    }
    for (Sum& sum : sums) {
        const float length =
            base::squareRoot(base::lanes(sum[0] * sum[0] + sum[1] * sum[1] + sum[2] * sum[2]))[0];
        const bool directed = length > kNoDirection * sum[3] && std::isfinite(length);
        sum = directed ? sum / length : Sum{};
    }
    for (std::size_t v = 0; v < normals.size(); ++v) {
        const Sum& sum = sums[grouped_ ? group_[v] : v];
        normals[v] = {sum[0], sum[1], sum[2]};
    }
}

std::vector<std::uint32_t> smoothGroupsOf(const Mesh& mesh, bool byNormal) {
    struct Key {
        std::array<std::uint32_t, 6> bits;
        std::size_t name;
        bool operator==(const Key&) const = default;
    };
    struct KeyHash {
        std::size_t operator()(const Key& key) const {
            std::size_t hash = key.name;
            for (const std::uint32_t bits : key.bits) {
                hash = (hash ^ bits) * 0x9E3779B97F4A7C15ull;
                hash ^= hash >> 29;
            }
            return hash;
        }
    };
    const auto bitsOf = [](float value) {
        return std::bit_cast<std::uint32_t>(value == 0.0f ? 0.0f : value);
    };
    // Normals of a seam agree to within rounding only.
    const auto rounded = [](float value) { return std::round(value * 4096.0f); };
    std::unordered_map<Key, std::uint32_t, KeyHash> groups;
    std::vector<std::uint32_t> group(mesh.vertexCount());
    for (const Part& part : mesh.parts) {
        const std::size_t name = std::hash<std::string>()(part.name);
        for (std::uint32_t v = part.firstVertex; v < part.firstVertex + part.vertexCount; ++v) {
            Key key{{}, name};
            for (int a = 0; a < 3; ++a) {
                const auto slot = static_cast<std::size_t>(a);
                key.bits[slot] = bitsOf(mesh.positions[v][a]);
                key.bits[slot + 3] = byNormal ? bitsOf(rounded(mesh.normals[v][a])) : 0;
            }
            group[v] = groups.try_emplace(key, static_cast<std::uint32_t>(groups.size())).first->second;
        }
    }
    return group;
}

NormalFaults makeUnit(std::span<glm::vec3> normals) {
    NormalFaults faults;
    for (glm::vec3& normal : normals) {
        const float length2 = glm::dot(normal, normal);
        if (!(length2 > 1e-30f) || !std::isfinite(length2)) {
            normal = glm::vec3(0.0f);
            ++faults.missing;
        } else if (!isUnit(length2)) {
            normal /= std::sqrt(length2);
            ++faults.length;
        } else if (length2 != 1.0f) {
            normal /= std::sqrt(length2);
        }
    }
    return faults;
}

float degreesBetween(const glm::vec3& a, const glm::vec3& b) {
    const float angle = glm::degrees(std::atan2(glm::length(glm::cross(a, b)), glm::dot(a, b)));
    return std::isfinite(angle) ? angle : 180.0f;
}

std::vector<glm::vec3> filledNormals(std::span<const glm::vec3> normals) {
    std::vector<glm::vec3> filled(normals.begin(), normals.end());
    std::replace(filled.begin(), filled.end(), glm::vec3(0.0f), glm::vec3(0.0f, 1.0f, 0.0f));
    return filled;
}

} // namespace ripple::mesh
