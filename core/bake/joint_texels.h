#pragma once

#include "bake/frame_blend.h"
#include "bake/texture_set.h"

#include <cstddef>
#include <span>
#include <vector>

#include <glm/mat4x4.hpp>
#include <glm/vec4.hpp>

namespace ripple::bake {

/// How far a transform is from one of place, rotation and uniform scale: the largest difference of a length
/// or an angle (radians), relative to the scale. 0 for one that is scaled to nothing.
double unevenness(const glm::dmat4& transform);

/// The texels of a transform (docs/definitions.md §11): x y z and uniform scale (negative where it mirrors),
/// then the quaternion x y z w; or the rows of its matrix. JointFormat::texels() of them.
void makeTexels(const glm::dmat4& transform, bool matrix, std::span<glm::vec4> texels);

/// One frame's joints × texels, packed. Ranges are those of `format`.
void encodeJoints(const BakeFormat& format, std::span<const glm::vec4> values, std::byte* texels);
void decodeJoints(const BakeFormat& format, const std::byte* texels, std::span<glm::vec4> values);

/// Weights in steps of 1/65535 that sum to 1 all the same.
JointInfluences rounded(const JointInfluences& influences);

/// Pairs of joint and weight, two to a texel: RGBA of `pixel`, packed; joints as whole numbers.
void encodeInfluences(std::span<const JointInfluences> columns, std::size_t firstOfPair, image::Pixel pixel,
                      std::byte* texels);
/// Of all columns of the set's texture of influences.
std::vector<JointInfluences> decodeInfluences(const TextureSet& set);

/// In UV sets: pairs of joints, j₀ + 4096 · j₁, in the first sets, then the weights in pairs.
constexpr std::size_t kMostJointsInUvs = 4096;
std::vector<std::vector<glm::vec2>> influencesAsUvs(std::span<const JointInfluences> vertices,
                                                    std::size_t influences);
/// The other way; `sets` as many as above.
std::vector<JointInfluences> influencesOfUvs(std::span<const std::vector<glm::vec2>> sets,
                                             std::size_t influences);
/// UV sets that influences take: 3, or 6 for eight.
constexpr std::size_t setsOf(std::size_t influences) {
    return (influences + 3) / 4 + influences / 2;
}

/// The UV sets as what the shipped code takes of a vertex: joint_pairs (of four influences its first two
/// alone), joint_weights and, of eight influences, more_joint_weights.
struct JointInputs {
    std::vector<glm::vec4> pairs;
    std::vector<glm::vec4> weights;
    std::vector<glm::vec4> moreWeights;
};
JointInputs jointInputs(std::span<const std::vector<glm::vec2>> sets, std::size_t influences);

/// The transforms of a moment, as the emitted code blends them: rigid ones as dual quaternions whose
/// rotations lie near each other as `moment` says (Kavan et al., "Skinning with Dual Quaternions", 2007), so
/// that what both frames leave in its place stays there; rows linearly. `frames`: those of the moment, each
/// of joints × texels.
void blendJoints(const JointFormat& format, std::span<const std::vector<glm::vec4>> frames,
                 const FrameBlend& moment, std::span<glm::mat4> transforms);

} // namespace ripple::bake
