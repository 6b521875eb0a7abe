#pragma once

#include "motion/perform.h"

#include <vector>

namespace ripple::motion {

/// How finely a mesh follows a voice.
struct Density {
    std::vector<float> wavesPerEdge; ///< vertices: the most that the wave goes on along any of its edges, in
                                     ///< waves (of noise: in lattice cells)
    float worst = 0.0f;
    std::size_t vertex = 0; ///< where
    bool tooCoarse() const { return worst > kCoarse; }
    /// Midpoint subdivisions after which it is fine enough; each halves every edge.
    std::size_t subdivisionsWanted() const;
    /// Below six edges a wave the crests become corners.
    static constexpr float kCoarse = 1.0f / 6.0f;
};

/// For one voice of the performance's score; only where its mask lets it move. Voices in unison have no
/// waves.
Density measureDensity(const Performance& performance, const mesh::Mesh& mesh, const Voice& voice,
                       std::size_t voiceIndex);

/// How much edges stretch in a pose: vertices × the largest |length / rest length − 1| of their edges. Edges
/// without length at rest count for nothing.
std::vector<float> edgeStrain(const mesh::Mesh& mesh, std::span<const glm::vec3> posed);

} // namespace ripple::motion
