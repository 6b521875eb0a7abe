#include "source/gltf_animation.h"
#include "source/gltf_library.h"

#include <algorithm>
#include <cmath>

namespace ripple::source {

namespace {

Interpolation interpolationOf(const std::string& text, const std::string& where) {
    if (text == "STEP") {
        return Interpolation::step;
    }
    if (text == "CUBICSPLINE") {
        return Interpolation::cubicSpline;
    }
    if (text != "LINEAR" && !text.empty()) {
        base::fail(where, "has the unknown interpolation \"" + text + "\"",
                   "use STEP, LINEAR or CUBICSPLINE");
    }
    return Interpolation::linear;
}

/// Drops keys that do not come after the one before: the specification wants strictly rising times.
std::size_t dropUnorderedKeys(SceneChannel& channel, std::size_t perKey) {
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

std::vector<SceneNode> readNodes(const GltfDocument& document) {
    const tinygltf::Model& model = *document.model;
    std::vector<SceneNode> nodes(model.nodes.size());
    for (std::size_t i = 0; i < nodes.size(); ++i) {
        const tinygltf::Node& from = model.nodes[i];
        SceneNode& node = nodes[i];
        node.name = from.name.empty() ? "node " + std::to_string(i) : from.name;
        node.mesh = from.mesh;
        node.skin = from.skin;
        node.weights = from.weights;
        if (from.translation.size() == 3) {
            node.translation = {from.translation[0], from.translation[1], from.translation[2]};
        }
        if (from.rotation.size() == 4) {
            node.rotation = unitQuaternion(from.rotation.data());
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
            SceneNode& target = nodes[static_cast<std::size_t>(child)];
            if (target.parent >= 0) {
                base::fail(document.at("node", static_cast<std::size_t>(child)), "has two parents",
                           "export the file again");
            }
            target.parent = static_cast<int>(i);
        }
    }
    requireTree(nodes, document.file);
    return nodes;
}

std::vector<SceneAnimation> readAnimations(const GltfDocument& document, std::span<const SceneNode> nodes,
                                           base::Findings& findings) {
    const tinygltf::Model& model = *document.model;
    std::vector<SceneAnimation> animations;
    for (std::size_t a = 0; a < model.animations.size(); ++a) {
        const tinygltf::Animation& from = model.animations[a];
        SceneAnimation animation;
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
            SceneChannel channel;
            channel.node = static_cast<std::size_t>(target.target_node);
            channel.interpolation = interpolationOf(sampler.interpolation, where);
            if (target.target_path == "rotation") {
                channel.path = ChannelPath::rotation;
                channel.width = 4;
            } else if (target.target_path == "scale") {
                channel.path = ChannelPath::scale;
            } else if (target.target_path == "weights") {
                channel.path = ChannelPath::weights;
            } else if (target.target_path != "translation") {
                continue; // an extension's path
            }
            const GltfNumbers times = readNumbers(document, sampler.input, 1);
            const std::size_t width = channel.path == ChannelPath::weights ? 1 : channel.width;
            const GltfNumbers values = readNumbers(document, sampler.output, width);
            channel.times.assign(times.values.begin(), times.values.end());
            channel.values.assign(values.values.begin(), values.values.end());
            const std::size_t tangents = channel.interpolation == Interpolation::cubicSpline ? 3 : 1;
            const std::size_t keys = channel.times.size();
            if (keys == 0) {
                continue;
            }
            if (channel.path == ChannelPath::weights) {
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

} // namespace ripple::source
