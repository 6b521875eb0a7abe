#pragma once

#include "source/scene.h"

#include <span>
#include <string>
#include <vector>

#include <glm/mat4x4.hpp>

namespace ripple::source {

enum class ChannelPath { translation, rotation, scale, weights };
enum class Interpolation { step, linear, cubicSpline };

/// One animated property. Times ascend; CUBICSPLINE keys hold in-tangent, value, out-tangent.
struct SceneChannel {
    std::size_t node = 0;
    ChannelPath path = ChannelPath::translation;
    Interpolation interpolation = Interpolation::linear;
    std::size_t width = 3;      ///< numbers per value
    std::vector<double> times;  ///< seconds
    std::vector<double> values; ///< times × (1 or 3) × width

    /// The value at `seconds` (glTF 2.0, appendix C): clamped to the ends, STEP, LINEAR (rotations by
    /// shortest-path slerp) or CUBICSPLINE (Hermite, tangents scaled by the key distance). Rotations are unit
    /// length. `out` has `width` numbers.
    void evaluate(double seconds, std::span<double> out) const;
};

struct SceneAnimation {
    std::string name;
    double start = 0.0;
    double end = 0.0;
    std::vector<SceneChannel> channels;
};

/// The unit quaternion of four numbers x, y, z, w; the identity if they vanish.
glm::dquat unitQuaternion(const double* xyzw);

/// How many keys a second an animation was keyed at: the rate at which all key times fall on whole frames.
/// 0 where the keys tell none (too few, or too far apart to mean frames).
double keyRate(const SceneAnimation& animation);

/// Global transforms of all nodes at a time of an animation (null: rest), and each node's morph weights.
struct ScenePose {
    std::vector<glm::dmat4> global;           ///< nodes
    std::vector<std::vector<double>> weights; ///< nodes; empty where the node has none
};
ScenePose evaluatePose(std::span<const SceneNode> nodes, const SceneAnimation* animation, double seconds);

} // namespace ripple::source
