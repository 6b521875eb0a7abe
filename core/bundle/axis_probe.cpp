#include "bundle/axis_probe.h"

#include <array>
#include <cmath>
#include <numbers>
#include <vector>

#include <glm/geometric.hpp>
#include <glm/vec2.hpp>

namespace ripple::bundle {

namespace {

constexpr float kThick = 0.02f;  // metres, half of it
constexpr float kTip = 0.8f;     // where the arrow's head begins; what lies beyond moves
constexpr float kGrowth = 0.25f; // metres

const std::array<glm::vec3, 3> kAxes = {glm::vec3(1, 0, 0), glm::vec3(0, 1, 0), glm::vec3(0, 0, 1)};
const std::array<glm::vec4, 3> kColours = {glm::vec4(0.9f, 0.18f, 0.1f, 1.0f),
                                           glm::vec4(0.12f, 0.6f, 0.42f, 1.0f),
                                           glm::vec4(0.9f, 0.55f, 0.08f, 1.0f)};

/// A letter's strokes, in its own square from −1 to 1.
using Strokes = std::vector<std::array<glm::vec2, 2>>;
const std::array<Strokes, 3> kLetters = {
    Strokes{{{{-0.7f, -1.0f}, {0.7f, 1.0f}}}, {{{-0.7f, 1.0f}, {0.7f, -1.0f}}}},
    Strokes{{{{-0.7f, 1.0f}, {0.0f, 0.0f}}}, {{{0.7f, 1.0f}, {0.0f, 0.0f}}}, {{{0.0f, 0.0f}, {0.0f, -1.0f}}}},
    Strokes{{{{-0.7f, 1.0f}, {0.7f, 1.0f}}},
            {{{0.7f, 1.0f}, {-0.7f, -1.0f}}},
            {{{-0.7f, -1.0f}, {0.7f, -1.0f}}}}};

/// Builds flat-shaded solids; each face has vertices of its own.
class Builder {
public:
    mesh::Mesh mesh;
    std::vector<int> arrowOf; ///< vertices: the arrow whose tip they belong to; −1: they stay

    /// Corners counter-clockwise from outside.
    void face(const std::vector<glm::vec3>& corners, int arrow) {
        const auto first = static_cast<std::uint32_t>(mesh.positions.size());
        const glm::vec3 normal = glm::normalize(glm::cross(corners[1] - corners[0], corners[2] - corners[0]));
        for (const glm::vec3& corner : corners) {
            mesh.positions.push_back(corner);
            mesh.normals.push_back(normal);
            mesh.colours.push_back(kColours[static_cast<std::size_t>(arrow)]);
            arrowOf.push_back(glm::dot(corner, kAxes[static_cast<std::size_t>(arrow)]) >= kTip ? arrow : -1);
        }
        for (std::uint32_t i = 2; i < corners.size(); ++i) {
            mesh.indices.insert(mesh.indices.end(), {first, first + i - 1, first + i});
        }
    }

    /// From `from` to `to`, narrowing to a point where `pointed`; `side` and `up` are its half widths.
    void bar(const glm::vec3& from, const glm::vec3& to, const glm::vec3& side, const glm::vec3& up,
             int arrow, bool pointed = false) {
        // Seen from `to`, the corners run counter-clockwise if side, up and the bar's way are right-handed.
        const bool right = glm::dot(glm::cross(side, up), to - from) > 0.0f;
        const glm::vec3 s = right ? side : -side;
        const std::array<glm::vec3, 4> ring = {-s - up, s - up, s + up, -s + up};
        face({from + ring[3], from + ring[2], from + ring[1], from + ring[0]}, arrow);
        for (std::size_t i = 0; i < 4; ++i) {
            const glm::vec3& a = ring[i];
            const glm::vec3& b = ring[(i + 1) % 4];
            if (pointed) {
                face({from + a, from + b, to}, arrow);
            } else {
                face({from + a, from + b, to + b, to + a}, arrow);
            }
        }
        if (!pointed) {
            face({to + ring[0], to + ring[1], to + ring[2], to + ring[3]}, arrow);
        }
    }
};

class Probe : public source::FrameSource {
public:
    Probe() {
        Builder builder;
        for (int a = 0; a < 3; ++a) {
            const glm::vec3& along = kAxes[static_cast<std::size_t>(a)];
            const glm::vec3& side = kAxes[static_cast<std::size_t>((a + 1) % 3)];
            const glm::vec3& up = kAxes[static_cast<std::size_t>((a + 2) % 3)];
            builder.bar({}, kTip * along, kThick * side, kThick * up, a);
            builder.bar(kTip * along, along, 4.0f * kThick * side, 4.0f * kThick * up, a, true);
            // Letters stand in the plane of X and Y, beyond the tip.
            const glm::vec3 centre = 1.14f * along;
            for (const auto& stroke : kLetters[static_cast<std::size_t>(a)]) {
                const auto place = [&](const glm::vec2& p) { return centre + glm::vec3(0.08f * p, 0.0f); };
                const glm::vec3 from = place(stroke[0]);
                const glm::vec3 to = place(stroke[1]);
                const glm::vec3 across = glm::normalize(glm::cross(to - from, kAxes[2]));
                builder.bar(from, to, 0.6f * kThick * across, 0.6f * kThick * kAxes[2], a);
            }
        }
        mesh_ = std::move(builder.mesh);
        arrowOf_ = std::move(builder.arrowOf);
        mesh_.materials.resize(1);
        mesh_.materials[0].name = "arrows";
        mesh_.parts = {{"arrows", 0, 0, static_cast<std::uint32_t>(mesh_.vertexCount()), 0,
                        static_cast<std::uint32_t>(mesh_.indices.size())}};
        entry_ = {"arrows", mesh_.vertexCount(), mesh_.triangleCount(), true};
        clip_.name = "grow";
        clip_.duration = 3.0;
        clip_.fps = 20.0;
    }

    const mesh::Mesh& mesh() const override { return mesh_; }
    std::span<const source::Clip> clips() const override { return {&clip_, 1}; }
    std::span<const source::MeshEntry> meshes() const override { return {&entry_, 1}; }
    std::span<const base::Finding> findings() const override { return {}; }
    std::string format() const override { return "axis probe"; }
    source::Space space() const override { return {1.0, source::Axis::y, true}; }
    void sample(std::size_t, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        for (std::size_t v = 0; v < positions.size(); ++v) {
            positions[v] = mesh_.positions[v];
            const int arrow = arrowOf_[v];
            const double into = seconds - arrow; // its second of the clip
            if (arrow >= 0 && into > 0.0 && into < 1.0) {
                const double grown = std::pow(std::sin(std::numbers::pi * into), 2.0);
                positions[v] += static_cast<float>(kGrowth * grown) * kAxes[static_cast<std::size_t>(arrow)];
            }
        }
        std::copy_n(mesh_.normals.begin(), normals.size(), normals.begin());
    }

private:
    mesh::Mesh mesh_;
    std::vector<int> arrowOf_;
    source::MeshEntry entry_;
    source::Clip clip_;
};

} // namespace

std::shared_ptr<const source::FrameSource> axisProbe() {
    return std::make_shared<Probe>();
}

Manifest writeAxisProbe(const std::filesystem::path& directory, const Target& target,
                        base::Progress& progress) {
    bake::Recipe recipe;
    if (!target.readsExr) {
        recipe.positionStore = "unorm16";
    }
    return writeBundle(*axisProbe(), recipe, {}, directory, progress, {target});
}

} // namespace ripple::bundle
