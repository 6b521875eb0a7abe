#include "scatter/ground.h"

#include "base/problem.h"
#include "mesh/bounds.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::scatter {

namespace {

class Flat : public Ground {
public:
    std::optional<Spot> below(const glm::vec2& xz) const override {
        return Spot{{xz.x, 0.0f, xz.y}, {0.0f, 1.0f, 0.0f}};
    }
};

class Uneven : public Ground {
public:
    Uneven(float rise, float apart) : rise_(rise), wave_(6.2831853f / apart) {}

    /// Three waves across each other, the derivative beside them.
    std::optional<Spot> below(const glm::vec2& xz) const override {
        constexpr std::array<glm::vec3, 3> kWaves = {glm::vec3(1.0f, 0.35f, 0.5f),
                                                     glm::vec3(-0.4f, 1.1f, 0.3f),
                                                     glm::vec3(1.9f, -1.6f, 0.2f)}; // x, z, height
        float height = 0.0f;
        glm::vec2 slope(0.0f);
        for (const glm::vec3& wave : kWaves) {
            const glm::vec2 way = wave_ * glm::vec2(wave);
            const float phase = glm::dot(way, xz);
            height += rise_ * wave.z * std::sin(phase);
            slope += rise_ * wave.z * std::cos(phase) * way;
        }
        return Spot{{xz.x, height, xz.y}, glm::normalize(glm::vec3(-slope.x, 1.0f, -slope.y))};
    }

private:
    float rise_;
    float wave_; ///< radians a metre
};

/// Triangles in the cells of a grid that they touch, as seen from above.
class OfMesh : public Ground {
public:
    explicit OfMesh(const mesh::Mesh& mesh) {
        mesh::Bounds bounds;
        for (std::size_t t = 0; t + 2 < mesh.indices.size(); t += 3) {
            Triangle triangle{mesh.positions[mesh.indices[t]], mesh.positions[mesh.indices[t + 1]],
                              mesh.positions[mesh.indices[t + 2]]};
            if (std::abs(areaAbove(triangle)) > 0.0f) {
                triangles_.push_back(triangle);
                for (const glm::vec3& corner : triangle) {
                    bounds.add({&corner, 1});
                }
            }
        }
        if (triangles_.empty()) {
            base::fail("ground", "has no area as seen from above",
                       "take a mesh that lies, or the flat ground");
        }
        low_ = {bounds.min.x, bounds.min.z};
        const glm::vec2 size = glm::vec2(bounds.max.x, bounds.max.z) - low_;
        side_ = std::clamp<std::size_t>(
            static_cast<std::size_t>(std::sqrt(static_cast<double>(triangles_.size()))), 1, 256);
        cell_ = size / static_cast<float>(side_);
        cells_.resize(side_ * side_);
        for (std::uint32_t t = 0; t < triangles_.size(); ++t) {
            mesh::Bounds own;
            own.add(triangles_[t]);
            const auto [x0, z0] = cellOf({own.min.x, own.min.z});
            const auto [x1, z1] = cellOf({own.max.x, own.max.z});
            for (std::size_t z = z0; z <= z1; ++z) {
                for (std::size_t x = x0; x <= x1; ++x) {
                    cells_[z * side_ + x].push_back(t);
                }
            }
        }
    }

    std::optional<Spot> below(const glm::vec2& xz) const override {
        const auto [x, z] = cellOf(xz);
        std::optional<Spot> highest;
        for (const std::uint32_t t : cells_[z * side_ + x]) {
            const Triangle& triangle = triangles_[t];
            const float whole = areaAbove(triangle);
            const glm::vec3 p(xz.x, 0.0f, xz.y);
            const float a = areaAbove({p, triangle[1], triangle[2]}) / whole;
            const float b = areaAbove({triangle[0], p, triangle[2]}) / whole;
            const float c = 1.0f - a - b;
            constexpr float kEdge = -1e-5f; // a seam between two triangles is no hole
            if (a < kEdge || b < kEdge || c < kEdge) {
                continue;
            }
            const float height = a * triangle[0].y + b * triangle[1].y + c * triangle[2].y;
            if (!highest || height > highest->position.y) {
                const glm::vec3 normal =
                    glm::normalize(glm::cross(triangle[1] - triangle[0], triangle[2] - triangle[0]));
                highest = Spot{{xz.x, height, xz.y}, normal.y < 0.0f ? -normal : normal};
            }
        }
        return highest;
    }

private:
    using Triangle = std::array<glm::vec3, 3>;

    /// Twice the area as seen from above, with a sign.
    static float areaAbove(const Triangle& t) {
        return (t[1].z - t[0].z) * (t[2].x - t[0].x) - (t[1].x - t[0].x) * (t[2].z - t[0].z);
    }
    std::pair<std::size_t, std::size_t> cellOf(const glm::vec2& xz) const {
        const auto of = [&](float at, float size) {
            const float cell = size > 0.0f ? std::floor(at / size) : 0.0f;
            return static_cast<std::size_t>(std::clamp(cell, 0.0f, static_cast<float>(side_ - 1)));
        };
        return {of(xz.x - low_.x, cell_.x), of(xz.y - low_.y, cell_.y)};
    }

    std::vector<Triangle> triangles_;
    glm::vec2 low_{0.0f};
    glm::vec2 cell_{1.0f};
    std::size_t side_ = 1;
    std::vector<std::vector<std::uint32_t>> cells_;
};

} // namespace

std::unique_ptr<Ground> flatGround() {
    return std::make_unique<Flat>();
}

std::unique_ptr<Ground> unevenGround(float rise, float apart) {
    return std::make_unique<Uneven>(rise, apart);
}

std::unique_ptr<Ground> meshGround(const mesh::Mesh& mesh) {
    return std::make_unique<OfMesh>(mesh);
}

} // namespace ripple::scatter
