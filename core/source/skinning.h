#pragma once

#include <array>
#include <cstdint>
#include <span>
#include <vector>

#include <glm/mat4x4.hpp>
#include <glm/vec3.hpp>

namespace ripple::source {

/// Which joints move each vertex, and how much. `influences` joints and weights lie together per vertex (4
/// and 8 have loops of their own); weights sum to 1 (see normaliseWeights), joints index the palette.
struct SkinWeights {
    std::size_t influences = 4;
    std::vector<std::uint16_t> joints; ///< vertices × influences
    std::vector<float> weights;        ///< vertices × influences

    std::size_t vertexCount() const { return influences ? weights.size() / influences : 0; }
};

/// What normaliseWeights found.
struct WeightRepair {
    std::size_t vertices = 0;   ///< how many sums were off by more than 1e-4
    float largestError = 0.0f;  ///< largest |sum − 1| among them
    std::size_t unweighted = 0; ///< vertices whose weights are all 0; they follow their first joint

    void add(const WeightRepair& other);
};

/// Makes each vertex's weights sum to 1. Negative and non-finite weights count as 0.
WeightRepair normaliseWeights(SkinWeights& weights);

/// Linear blend skinning as glTF 2.0, section 3.7.3.3 (Skins): position' = Σ wᵢ·Mᵢ · (position, 1), with
/// Mᵢ = palette[jointᵢ] = global joint transform × inverse bind matrix. Normals go by the cofactor matrix of
/// the blended 3×3 part (docs/definitions.md §4) and are renormalised; one that vanishes stays as it was.
/// Spans have weights.vertexCount() elements; inputs and outputs must not overlap. `normals` may be empty where
/// they are not wanted.
void skin(const SkinWeights& weights, std::span<const glm::mat4> palette,
          std::span<const glm::vec3> restPositions, std::span<const glm::vec3> unposedNormals,
          std::span<glm::vec3> positions, std::span<glm::vec3> normals);

/// The same transform for all vertices: rigid parts of a scene.
void transform(const glm::mat4& matrix, std::span<const glm::vec3> restPositions,
               std::span<const glm::vec3> unposedNormals, std::span<glm::vec3> positions,
               std::span<glm::vec3> normals);

} // namespace ripple::source
