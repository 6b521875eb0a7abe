#pragma once

#include "source/frame_source.h"

#include <cmath>
#include <functional>

#include <glm/geometric.hpp>

namespace ripple::tests {

/// A source whose poses are a formula: what a bake of it must give is known exactly.
class AnalyticSource : public source::FrameSource {
public:
    using Pose = std::function<glm::vec3(const glm::vec3& rest, double seconds)>;

    /// A sheet of side × side vertices in the XZ plane, 2 m wide, moved by `pose`.
    AnalyticSource(std::size_t side, source::Clip clip, Pose pose)
        : clip_(std::move(clip)),
          pose_(std::move(pose)) {
        for (std::size_t z = 0; z < side; ++z) {
            for (std::size_t x = 0; x < side; ++x) {
                const float u = static_cast<float>(x) / static_cast<float>(side - 1);
                const float v = static_cast<float>(z) / static_cast<float>(side - 1);
                mesh_.positions.push_back({2.0f * u - 1.0f, 0.0f, 2.0f * v - 1.0f});
                mesh_.normals.push_back({0.0f, 1.0f, 0.0f});
                if (mesh_.uvSets.empty()) {
                    mesh_.uvSets.emplace_back();
                }
                mesh_.uvSets[0].push_back({u, v});
            }
        }
        for (std::uint32_t z = 0; z + 1 < side; ++z) {
            for (std::uint32_t x = 0; x + 1 < side; ++x) {
                const auto a = z * static_cast<std::uint32_t>(side) + x;
                const auto b = a + static_cast<std::uint32_t>(side);
                mesh_.indices.insert(mesh_.indices.end(), {a, b, a + 1, a + 1, b, b + 1});
            }
        }
        mesh::Part part;
        part.name = "sheet";
        part.vertexCount = static_cast<std::uint32_t>(mesh_.vertexCount());
        part.indexCount = static_cast<std::uint32_t>(mesh_.indices.size());
        mesh_.parts.push_back(part);
        mesh_.materials.emplace_back();
        entry_ = {"sheet", mesh_.vertexCount(), mesh_.triangleCount(), true};
    }

    const mesh::Mesh& mesh() const override { return mesh_; }
    std::span<const source::Clip> clips() const override { return {&clip_, 1}; }
    std::span<const source::MeshEntry> meshes() const override { return {&entry_, 1}; }
    std::span<const base::Finding> findings() const override { return {}; }
    std::string format() const override { return "formula"; }
    void sample(std::size_t, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        for (std::size_t v = 0; v < positions.size(); ++v) {
            positions[v] = pose_(mesh_.positions[v], seconds);
        }
        for (std::size_t v = 0; v < normals.size(); ++v) {
            normals[v] = glm::normalize(glm::vec3(std::sin(seconds + v), 1.0, std::cos(seconds)));
        }
    }

    mesh::Mesh& editMesh() { return mesh_; }

private:
    mesh::Mesh mesh_;
    source::Clip clip_;
    source::MeshEntry entry_;
    Pose pose_;
};

/// A wave that goes round once in `period` seconds: the clip closes.
inline AnalyticSource::Pose wave(double period, float amplitude = 0.3f) {
    return [=](const glm::vec3& rest, double seconds) {
        const double turn = 6.283185307179586 * (seconds / period - static_cast<double>(rest.x) * 0.5);
        return rest + glm::vec3(0.0f, amplitude * static_cast<float>(std::sin(turn)), 0.0f);
    };
}

/// Everything drifts along X, so that ends never meet.
inline AnalyticSource::Pose drift(float metresPerSecond) {
    return [=](const glm::vec3& rest, double seconds) {
        return rest + glm::vec3(metresPerSecond * static_cast<float>(seconds), 0.0f, 0.0f);
    };
}

inline source::Clip timed(double duration, double fps = 30.0) {
    return {"clip", 0.0, duration, 0, fps};
}
inline source::Clip sequence(std::size_t frames, double fps = 30.0) {
    return {"clip", 0.0, static_cast<double>(frames - 1) / fps, frames, fps};
}

} // namespace ripple::tests
