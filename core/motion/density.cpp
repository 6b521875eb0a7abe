#include "motion/density.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

/// Calls `body` with both ends of each edge of each triangle; inner edges come twice.
template <typename Body>
void forEdges(const mesh::Mesh& mesh, const Body& body) {
    for (std::size_t i = 0; i < mesh.indices.size(); ++i) {
        const std::size_t t = i - i % 3;
        body(mesh.indices[i], mesh.indices[t + (i + 1) % 3]);
    }
}

} // namespace

std::size_t Density::subdivisionsWanted() const {
    return worst <= kCoarse ? 0 : static_cast<std::size_t>(std::ceil(std::log2(worst / kCoarse)));
}

Density measureDensity(const Performance& performance, const mesh::Mesh& mesh, const Voice& voice,
                       std::size_t voiceIndex) {
    Density density;
    density.wavesPerEdge.assign(mesh.vertexCount(), 0.0f);
    if (voice.course.kind == CourseKind::unison) {
        return density;
    }
    const VoiceNodes& nodes = performance.composition().voices[voiceIndex];
    const std::vector<float> place = performance.values(nodes.place, 0.0, {});
    const std::vector<float> mask = performance.values(nodes.mask, 0.0, {});
    const float cells = voice.shape.kind == ShapeKind::noise ? static_cast<float>(voice.shape.detail) : 1.0f;
    constexpr float kHeld = 0.02f; // what moves by less shows no corners
    forEdges(mesh, [&](std::uint32_t a, std::uint32_t b) {
        if (std::max(mask[a], mask[b]) < kHeld) {
            return;
        }
        const float waves = cells * std::abs(place[a] - place[b]);
        for (const std::uint32_t v : {a, b}) {
            density.wavesPerEdge[v] = std::max(density.wavesPerEdge[v], waves);
        }
        if (waves > density.worst) {
            density.worst = waves;
            density.vertex = a;
        }
    });
    return density;
}

std::vector<float> edgeStrain(const mesh::Mesh& mesh, std::span<const glm::vec3> posed) {
    std::vector<float> strain(mesh.vertexCount(), 0.0f);
    forEdges(mesh, [&](std::uint32_t a, std::uint32_t b) {
        const float rest = glm::distance(mesh.positions[a], mesh.positions[b]);
        if (!(rest > 0.0f)) {
            return;
        }
        const float stretch = std::abs(glm::distance(posed[a], posed[b]) / rest - 1.0f);
        strain[a] = std::max(strain[a], stretch);
        strain[b] = std::max(strain[b], stretch);
    });
    return strain;
}

} // namespace ripple::motion
