#include "source/gltf_animation.h"

#include <algorithm>
#include <cmath>

#include <glm/gtc/matrix_transform.hpp>
#include <tiny_gltf.h>

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

glm::dmat4 local(const GltfNode& node) {
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

void checkTree(const GltfDocument& document, std::span<const GltfNode> nodes) {
    for (std::size_t i = 0; i < nodes.size(); ++i) {
        std::size_t steps = 0;
        for (int n = nodes[i].parent; n >= 0; n = nodes[static_cast<std::size_t>(n)].parent) {
            if (++steps > nodes.size()) {
                base::fail(document.at("node", i), "is its own ancestor: the node tree runs in a circle",
                           "export the file again");
            }
        }
    }
}

GltfInterpolation interpolationOf(const std::string& text, const std::string& where) {
    if (text == "STEP") {
        return GltfInterpolation::step;
    }
    if (text == "CUBICSPLINE") {
        return GltfInterpolation::cubicSpline;
    }
    if (text != "LINEAR" && !text.empty()) {
        base::fail(where, "has the unknown interpolation \"" + text + "\"",
                   "use STEP, LINEAR or CUBICSPLINE");
    }
    return GltfInterpolation::linear;
}

/// Drops keys that do not come after the one before: the specification wants strictly rising times.
std::size_t dropUnorderedKeys(GltfChannel& channel, std::size_t perKey) {
    std::size_t kept = 0;
    for (std::size_t i = 0; i < channel.times.size(); ++i) {
        // Of keys with one time the last counts: that is what stepping through them in order shows.
        if (kept > 0 && channel.times[i] == channel.times[kept - 1]) {
            --kept;
        } else if (kept > 0 && channel.times[i] < channel.times[kept - 1]) {
            continue;
        }
        channel.times[kept] = channel.times[i];
        std::copy_n(channel.values.begin() + static_cast<std::ptrdiff_t>(i * perKey), perKey,
                    channel.values.begin() + static_cast<std::ptrdiff_t>(kept * perKey));
        ++kept;
    }
    const std::size_t dropped = channel.times.size() - kept;
    channel.times.resize(kept);
    channel.values.resize(kept * perKey);
    return dropped;
}

} // namespace

void GltfChannel::evaluate(double seconds, std::span<double> out) const {
    const std::size_t perKey = interpolation == GltfInterpolation::cubicSpline ? 3 * width : width;
    const std::size_t valueOffset = interpolation == GltfInterpolation::cubicSpline ? width : 0;
    const auto value = [&](std::size_t key) { return values.data() + key * perKey + valueOffset; };
    const auto finish = [&](std::size_t key) {
        std::copy_n(value(key), width, out.begin());
        if (path == GltfPath::rotation) {
            put(unit(quaternion(out.data())), out);
        }
    };
    const auto after = std::upper_bound(times.begin(), times.end(), seconds);
    if (after == times.begin()) {
        return finish(0);
    }
    const auto key = static_cast<std::size_t>(after - times.begin()) - 1;
    if (after == times.end() || interpolation == GltfInterpolation::step) {
        return finish(key);
    }
    const double span = times[key + 1] - times[key];
    const double t = (seconds - times[key]) / span;
    if (interpolation == GltfInterpolation::cubicSpline) {
        const double t2 = t * t;
        const double t3 = t2 * t;
        const double* out0 = value(key) + width;    // out-tangent of this key
        const double* in1 = value(key + 1) - width; // in-tangent of the next
        for (std::size_t c = 0; c < width; ++c) {
            out[c] = (2.0 * t3 - 3.0 * t2 + 1.0) * value(key)[c] + span * (t3 - 2.0 * t2 + t) * out0[c] +
                     (-2.0 * t3 + 3.0 * t2) * value(key + 1)[c] + span * (t3 - t2) * in1[c];
        }
        if (path == GltfPath::rotation) {
            put(unit(quaternion(out.data())), out);
        }
    } else if (path == GltfPath::rotation) {
        put(glm::slerp(unit(quaternion(value(key))), unit(quaternion(value(key + 1))), t), out);
    } else {
        for (std::size_t c = 0; c < width; ++c) {
            out[c] = value(key)[c] + (value(key + 1)[c] - value(key)[c]) * t;
        }
    }
}

std::vector<GltfNode> readNodes(const GltfDocument& document) {
    const tinygltf::Model& model = *document.model;
    std::vector<GltfNode> nodes(model.nodes.size());
    for (std::size_t i = 0; i < nodes.size(); ++i) {
        const tinygltf::Node& from = model.nodes[i];
        GltfNode& node = nodes[i];
        node.name = from.name.empty() ? "node " + std::to_string(i) : from.name;
        node.mesh = from.mesh;
        node.skin = from.skin;
        node.weights = from.weights;
        if (from.translation.size() == 3) {
            node.translation = {from.translation[0], from.translation[1], from.translation[2]};
        }
        if (from.rotation.size() == 4) {
            node.rotation = unit(quaternion(from.rotation.data()));
        }
        if (from.scale.size() == 3) {
            node.scale = {from.scale[0], from.scale[1], from.scale[2]};
        }
        if (from.matrix.size() == 16) {
            node.hasMatrix = true;
            for (std::size_t k = 0; k < 16; ++k) {
                node.matrix[static_cast<int>(k / 4)][static_cast<int>(k % 4)] = from.matrix[k];
            }
        }
    }
    for (std::size_t i = 0; i < nodes.size(); ++i) {
        for (const int child : model.nodes[i].children) {
            if (child < 0 || static_cast<std::size_t>(child) >= nodes.size()) {
                base::fail(document.at("node", i),
                           "names child " + std::to_string(child) + ", which does not exist",
                           "export the file again");
            }
            GltfNode& target = nodes[static_cast<std::size_t>(child)];
            if (target.parent >= 0) {
                base::fail(document.at("node", static_cast<std::size_t>(child)), "has two parents",
                           "export the file again");
            }
            target.parent = static_cast<int>(i);
        }
    }
    checkTree(document, nodes);
    return nodes;
}

std::vector<GltfAnimation> readAnimations(const GltfDocument& document, std::span<const GltfNode> nodes,
                                          base::Findings& findings) {
    const tinygltf::Model& model = *document.model;
    std::vector<GltfAnimation> animations;
    for (std::size_t a = 0; a < model.animations.size(); ++a) {
        const tinygltf::Animation& from = model.animations[a];
        GltfAnimation animation;
        animation.name = from.name.empty() ? "clip " + std::to_string(a + 1) : from.name;
        const std::string where = document.file + ": animation \"" + animation.name + "\"";
        std::size_t dropped = 0;
        bool first = true;
        for (const tinygltf::AnimationChannel& target : from.channels) {
            if (target.target_node < 0) {
                continue; // the specification: ignored
            }
            if (static_cast<std::size_t>(target.target_node) >= nodes.size()) {
                base::fail(where,
                           "moves node " + std::to_string(target.target_node) + ", which does not exist",
                           "export the file again");
            }
            if (target.sampler < 0 || static_cast<std::size_t>(target.sampler) >= from.samplers.size()) {
                base::fail(where,
                           "names sampler " + std::to_string(target.sampler) + ", which does not exist",
                           "export the file again");
            }
            const tinygltf::AnimationSampler& sampler =
                from.samplers[static_cast<std::size_t>(target.sampler)];
            GltfChannel channel;
            channel.node = static_cast<std::size_t>(target.target_node);
            channel.interpolation = interpolationOf(sampler.interpolation, where);
            if (target.target_path == "rotation") {
                channel.path = GltfPath::rotation;
                channel.width = 4;
            } else if (target.target_path == "scale") {
                channel.path = GltfPath::scale;
            } else if (target.target_path == "weights") {
                channel.path = GltfPath::weights;
            } else if (target.target_path != "translation") {
                continue; // an extension's path
            }
            const GltfNumbers times = readNumbers(document, sampler.input, 1);
            const std::size_t width = channel.path == GltfPath::weights ? 1 : channel.width;
            const GltfNumbers values = readNumbers(document, sampler.output, width);
            channel.times.assign(times.values.begin(), times.values.end());
            channel.values.assign(values.values.begin(), values.values.end());
            const std::size_t tangents = channel.interpolation == GltfInterpolation::cubicSpline ? 3 : 1;
            const std::size_t keys = channel.times.size();
            if (keys == 0) {
                continue;
            }
            if (channel.path == GltfPath::weights) {
                channel.width = values.count / (keys * tangents);
            }
            if (channel.width == 0 || channel.values.size() != keys * tangents * channel.width) {
                base::fail(where,
                           "has " + std::to_string(keys) + " key times but " + std::to_string(values.count) +
                               " values",
                           "export the file again");
            }
            const auto finite = [](double x) { return std::isfinite(x); };
            if (!std::all_of(channel.times.begin(), channel.times.end(), finite) ||
                !std::all_of(channel.values.begin(), channel.values.end(), finite)) {
                base::fail(where, "holds keys that are not numbers (NaN or infinite)",
                           "export the file again");
            }
            dropped += dropUnorderedKeys(channel, tangents * channel.width);
            animation.start =
                first ? channel.times.front() : std::min(animation.start, channel.times.front());
            animation.end = first ? channel.times.back() : std::max(animation.end, channel.times.back());
            first = false;
            animation.channels.push_back(std::move(channel));
        }
        if (dropped > 0) {
            findings.push_back({"gltf-key-times",
                                base::Severity::note,
                                {where, std::to_string(dropped) + " key times repeat or run backwards",
                                 "the last of equal ones is used; clean the keys to be sure"}});
        }
        if (!animation.channels.empty()) {
            animations.push_back(std::move(animation));
        }
    }
    return animations;
}

GltfPose evaluatePose(std::span<const GltfNode> nodes, const GltfAnimation* animation, double seconds) {
    std::vector<GltfNode> posed(nodes.begin(), nodes.end());
    if (animation) {
        std::vector<double> value;
        for (const GltfChannel& channel : animation->channels) {
            value.resize(channel.width);
            channel.evaluate(seconds, value);
            GltfNode& node = posed[channel.node];
            switch (channel.path) {
            case GltfPath::translation:
                node.translation = {value[0], value[1], value[2]};
                break;
            case GltfPath::rotation:
                node.rotation = quaternion(value.data());
                break;
            case GltfPath::scale:
                node.scale = {value[0], value[1], value[2]};
                break;
            case GltfPath::weights:
                node.weights = value;
                break;
            }
        }
    }
    GltfPose pose;
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
