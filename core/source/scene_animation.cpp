#include "source/scene_animation.h"

#include <algorithm>
#include <cmath>

#include <glm/gtc/matrix_transform.hpp>

namespace ripple::source {

namespace {

glm::dquat quaternion(const double* xyzw) {
    return {xyzw[3], xyzw[0], xyzw[1], xyzw[2]};
}

void put(const glm::dquat& q, std::span<double> out) {
    out[0] = q.x;
    out[1] = q.y;
    out[2] = q.z;
    out[3] = q.w;
}

glm::dquat unit(const glm::dquat& q) {
    const double length = glm::length(q);
    return length > 0.0 ? q / length : glm::dquat(1.0, 0.0, 0.0, 0.0);
}

glm::dmat4 local(const SceneNode& node) {
    if (node.hasMatrix) {
        return node.matrix;
    }
    glm::dmat4 m = glm::mat4_cast(node.rotation);
    m[0] *= node.scale.x;
    m[1] *= node.scale.y;
    m[2] *= node.scale.z;
    m[3] = glm::dvec4(node.translation, 1.0);
    return m;
}

} // namespace

std::vector<std::size_t> parentsFirst(std::span<const SceneNode> nodes) {
    std::vector<std::size_t> order;
    std::vector<std::vector<std::size_t>> children(nodes.size());
    for (std::size_t n = 0; n < nodes.size(); ++n) {
        if (nodes[n].parent < 0) {
            order.push_back(n);
        } else {
            children[static_cast<std::size_t>(nodes[n].parent)].push_back(n);
        }
    }
    for (std::size_t i = 0; i < order.size(); ++i) {
        const auto& own = children[order[i]];
        order.insert(order.end(), own.begin(), own.end());
    }
    return order;
}

void requireTree(std::span<const SceneNode> nodes, const std::string& where) {
    std::vector<char> reached(nodes.size(), 0);
    for (const std::size_t n : parentsFirst(nodes)) {
        reached[n] = 1;
    }
    const auto circle = std::find(reached.begin(), reached.end(), 0);
    if (circle != reached.end()) {
        base::fail(where + ": node " + std::to_string(circle - reached.begin()),
                   "is its own ancestor, or below one that is: the node tree runs in a circle",
                   "export the file again");
    }
}

glm::dquat unitQuaternion(const double* xyzw) {
    return unit(quaternion(xyzw));
}

double keyRate(const SceneAnimation& animation) {
    constexpr double kFewest = 10.0; // keys further apart are poses, not frames
    constexpr double kMost = 240.0;
    constexpr double kOffGrid = 0.02; // of a frame
    double step = 1.0 / kFewest + 1e-9;
    bool any = false;
    for (const SceneChannel& channel : animation.channels) {
        for (std::size_t k = 1; k < channel.times.size(); ++k) {
            const double distance = channel.times[k] - channel.times[k - 1];
            any = any || distance <= step;
            step = std::min(step, distance);
        }
    }
    if (!any || step * kMost < 1.0) {
        return 0.0;
    }
    // Times are stored as 32-bit floats: a rate within a thousandth of a whole one is that one.
    double rate = 1.0 / step;
    rate = std::abs(rate - std::round(rate)) < 1e-3 * rate ? std::round(rate) : rate;
    for (const SceneChannel& channel : animation.channels) {
        for (const double time : channel.times) {
            const double frame = (time - animation.start) * rate;
            if (std::abs(frame - std::round(frame)) > kOffGrid) {
                return 0.0;
            }
        }
    }
    return rate;
}

void SceneChannel::evaluate(double seconds, std::span<double> out) const {
    const std::size_t perKey = interpolation == Interpolation::cubicSpline ? 3 * width : width;
    const std::size_t valueOffset = interpolation == Interpolation::cubicSpline ? width : 0;
    const auto value = [&](std::size_t key) { return values.data() + key * perKey + valueOffset; };
    const auto finish = [&](std::size_t key) {
        std::copy_n(value(key), width, out.begin());
        if (path == ChannelPath::rotation) {
            put(unit(quaternion(out.data())), out);
        }
    };
    const auto after = std::upper_bound(times.begin(), times.end(), seconds);
    if (after == times.begin()) {
        return finish(0);
    }
    const auto key = static_cast<std::size_t>(after - times.begin()) - 1;
    if (after == times.end() || interpolation == Interpolation::step) {
        return finish(key);
    }
    const double span = times[key + 1] - times[key];
    const double t = (seconds - times[key]) / span;
    if (interpolation == Interpolation::cubicSpline) {
        const double t2 = t * t;
        const double t3 = t2 * t;
        const double* out0 = value(key) + width;    // out-tangent of this key
        const double* in1 = value(key + 1) - width; // in-tangent of the next
        for (std::size_t c = 0; c < width; ++c) {
            out[c] = (2.0 * t3 - 3.0 * t2 + 1.0) * value(key)[c] + span * (t3 - 2.0 * t2 + t) * out0[c] +
                     (-2.0 * t3 + 3.0 * t2) * value(key + 1)[c] + span * (t3 - t2) * in1[c];
        }
        if (path == ChannelPath::rotation) {
            put(unit(quaternion(out.data())), out);
        }
    } else if (path == ChannelPath::rotation) {
        put(glm::slerp(unit(quaternion(value(key))), unit(quaternion(value(key + 1))), t), out);
    } else {
        for (std::size_t c = 0; c < width; ++c) {
            out[c] = value(key)[c] + (value(key + 1)[c] - value(key)[c]) * t;
        }
    }
}

ScenePose evaluatePose(std::span<const SceneNode> nodes, const SceneAnimation* animation, double seconds) {
    std::vector<SceneNode> posed(nodes.begin(), nodes.end());
    if (animation) {
        std::vector<double> value;
        for (const SceneChannel& channel : animation->channels) {
            value.resize(channel.width);
            channel.evaluate(seconds, value);
            SceneNode& node = posed[channel.node];
            switch (channel.path) {
            case ChannelPath::translation:
                node.translation = {value[0], value[1], value[2]};
                break;
            case ChannelPath::rotation:
                node.rotation = quaternion(value.data());
                break;
            case ChannelPath::scale:
                node.scale = {value[0], value[1], value[2]};
                break;
            case ChannelPath::weights:
                node.weights = value;
                break;
            }
        }
    }
    ScenePose pose;
    pose.global.resize(nodes.size());
    pose.weights.resize(nodes.size());
    std::vector<char> done(nodes.size(), 0);
    std::vector<std::size_t> chain;
    for (std::size_t i = 0; i < nodes.size(); ++i) {
        // Walk up to a finished ancestor, then down again: files may list children before parents.
        chain.clear();
        for (int n = static_cast<int>(i); n >= 0 && !done[static_cast<std::size_t>(n)];
             n = posed[static_cast<std::size_t>(n)].parent) {
            chain.push_back(static_cast<std::size_t>(n));
        }
        for (auto it = chain.rbegin(); it != chain.rend(); ++it) {
            const int parent = posed[*it].parent;
            const glm::dmat4 own = local(posed[*it]);
            pose.global[*it] = parent >= 0 ? pose.global[static_cast<std::size_t>(parent)] * own : own;
            done[*it] = 1;
        }
        pose.weights[i] = std::move(posed[i].weights);
    }
    return pose;
}

} // namespace ripple::source
