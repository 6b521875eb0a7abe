#pragma once

#include "source/gltf_document.h"

#include <span>
#include <string>
#include <vector>

#include <glm/gtc/quaternion.hpp>
#include <glm/mat4x4.hpp>
#include <glm/vec3.hpp>

namespace ripple::source {

/// A node's local transform: translation · rotation · scale, or a matrix where the file gives one.
struct GltfNode {
    std::string name;
    int parent = -1;
    int mesh = -1;
    int skin = -1;
    glm::dvec3 translation{0.0};
    glm::dquat rotation{1.0, 0.0, 0.0, 0.0};
    glm::dvec3 scale{1.0};
    bool hasMatrix = false;
    glm::dmat4 matrix{1.0};
    std::vector<double> weights; ///< morph targets' rest weights
};

enum class GltfPath { translation, rotation, scale, weights };
enum class GltfInterpolation { step, linear, cubicSpline };

/// One animated property. Times ascend; CUBICSPLINE keys hold in-tangent, value, out-tangent.
struct GltfChannel {
    std::size_t node = 0;
    GltfPath path = GltfPath::translation;
    GltfInterpolation interpolation = GltfInterpolation::linear;
    std::size_t width = 3;      ///< numbers per value
    std::vector<double> times;  ///< seconds
    std::vector<double> values; ///< times × (1 or 3) × width

    /// The value at `seconds` (glTF 2.0, appendix C): clamped to the ends, STEP, LINEAR (rotations by
    /// shortest-path slerp) or CUBICSPLINE (Hermite, tangents scaled by the key distance). Rotations are unit
    /// length. `out` has `width` numbers.
    void evaluate(double seconds, std::span<double> out) const;
};

struct GltfAnimation {
    std::string name;
    double start = 0.0;
    double end = 0.0;
    std::vector<GltfChannel> channels;
};

/// Nodes with parents; a node with two parents or a cycle is a failure.
std::vector<GltfNode> readNodes(const GltfDocument& document);

/// All animations that move something. Small breaches (repeated key times, keys out of order, missing
/// targets) become findings.
std::vector<GltfAnimation> readAnimations(const GltfDocument& document, std::span<const GltfNode> nodes,
                                          base::Findings& findings);

/// Global transforms of all nodes at a time of an animation (null: rest), and each node's morph weights.
struct GltfPose {
    std::vector<glm::dmat4> global;           ///< nodes
    std::vector<std::vector<double>> weights; ///< nodes; empty where the node has none
};
GltfPose evaluatePose(std::span<const GltfNode> nodes, const GltfAnimation* animation, double seconds);

} // namespace ripple::source
