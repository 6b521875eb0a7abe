#pragma once

#include "analytic_source.h"

#include <cmath>

#include <glm/gtc/quaternion.hpp>

namespace ripple::tests {

/// `count` tetrahedra that each turn about an axis of their own and fly away: stiff pieces by formula.
class TurningPieces : public source::FrameSource {
public:
    explicit TurningPieces(std::size_t count, std::size_t frames = 12) : clip_(sequence(frames)) {
        for (std::size_t p = 0; p < count; ++p) {
            const auto first = static_cast<std::uint32_t>(mesh_.positions.size());
            const glm::vec3 at(1.5f * static_cast<float>(p), 0.5f, -0.3f * static_cast<float>(p));
            for (const glm::vec3& corner : {glm::vec3(0.3f, 0, 0), glm::vec3(-0.1f, 0.2f, 0),
                                            glm::vec3(0, -0.2f, 0.2f), glm::vec3(0, 0.1f, -0.4f)}) {
                mesh_.positions.push_back(at + corner);
                mesh_.normals.push_back(glm::normalize(corner));
                pieceOf_.push_back(p);
            }
            for (const std::uint32_t i : {0u, 1u, 2u, 0u, 2u, 3u, 0u, 3u, 1u, 1u, 3u, 2u}) {
                mesh_.indices.push_back(first + i);
            }
        }
        mesh_.uvSets.emplace_back(mesh_.positions.size(), glm::vec2(0.0f));
        mesh::Part part;
        part.vertexCount = static_cast<std::uint32_t>(mesh_.vertexCount());
        part.indexCount = static_cast<std::uint32_t>(mesh_.indices.size());
        mesh_.parts.push_back(part);
        mesh_.materials.emplace_back();
    }

    static glm::quat turnAt(std::size_t piece, double seconds) {
        const float angle = 2.7f * static_cast<float>(seconds) * static_cast<float>(piece + 1);
        return glm::angleAxis(angle, glm::normalize(glm::vec3(1, static_cast<float>(piece), 0.5f)));
    }
    glm::vec3 placeOf(std::size_t vertex, double seconds) const {
        const std::size_t p = pieceOf_[vertex];
        const auto t = static_cast<float>(seconds);
        const glm::vec3 way(0.4f * t, t * (2.0f - 3.0f * t), 0.2f * t * static_cast<float>(p));
        return way + turnAt(p, seconds) * mesh_.positions[vertex];
    }

    const mesh::Mesh& mesh() const override { return mesh_; }
    std::span<const source::Clip> clips() const override { return {&clip_, 1}; }
    std::span<const source::MeshEntry> meshes() const override { return {}; }
    std::span<const base::Finding> findings() const override { return {}; }
    std::string format() const override { return "formula"; }
    void sample(std::size_t, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        for (std::size_t v = 0; v < positions.size(); ++v) {
            positions[v] = placeOf(v, seconds);
        }
        for (std::size_t v = 0; v < normals.size(); ++v) {
            normals[v] = turnAt(pieceOf_[v], seconds) * mesh_.normals[v];
        }
    }

private:
    mesh::Mesh mesh_;
    source::Clip clip_;
    std::vector<std::size_t> pieceOf_;
};

} // namespace ripple::tests
