#include "importer/animations.h"

#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include <assimp/anim.h>
#include <assimp/scene.h>

namespace ripple::importer {

namespace {

using namespace source;

/// Ticks per second where the file does not say, as the library's documentation has it.
constexpr double kDefaultTicks = 25.0;

/// Nodes become translation, rotation and scale before a channel moves them.
void takeApart(SceneNode& node) {
    if (!node.hasMatrix) {
        return;
    }
    node.hasMatrix = false;
    glm::dmat3 m(node.matrix);
    node.translation = glm::dvec3(node.matrix[3]);
    for (int c = 0; c < 3; ++c) {
        node.scale[c] = glm::length(m[c]);
        m[c] = node.scale[c] > 0.0 ? m[c] / node.scale[c] : glm::dmat3(1.0)[c];
    }
    if (glm::determinant(m) < 0.0) {
        node.scale.x = -node.scale.x;
        m[0] = -m[0];
    }
    node.rotation = glm::normalize(glm::quat_cast(m));
}

void requireFinite(const SceneChannel& channel, const std::string& where) {
    const auto finite = [](double x) { return std::isfinite(x); };
    if (!std::all_of(channel.times.begin(), channel.times.end(), finite) ||
        !std::all_of(channel.values.begin(), channel.values.end(), finite)) {
        base::fail(where, "holds keys that are not numbers (NaN or infinite)", "export the file again");
    }
}

/// Adds a channel of one property; keys that do not come after the one before are left out.
template <typename Key, typename Put>
void addChannel(SceneAnimation& animation, std::size_t node, ChannelPath path, std::size_t width,
                const Key* keys, unsigned int count, double ticks, const std::string& where, const Put& put) {
    if (count == 0) {
        return;
    }
    SceneChannel channel;
    channel.node = node;
    channel.path = path;
    channel.width = width;
    for (unsigned int k = 0; k < count; ++k) {
        const double time = keys[k].mTime / ticks;
        if (!channel.times.empty() && time <= channel.times.back()) {
            continue;
        }
        channel.times.push_back(time);
        put(keys[k], channel.values);
    }
    requireFinite(channel, where);
    const bool first = animation.channels.empty();
    animation.start = first ? channel.times.front() : std::min(animation.start, channel.times.front());
    animation.end = first ? channel.times.back() : std::max(animation.end, channel.times.back());
    animation.channels.push_back(std::move(channel));
}

void putVector(const aiVectorKey& key, std::vector<double>& values) {
    values.insert(values.end(), {static_cast<double>(key.mValue.x), static_cast<double>(key.mValue.y),
                                 static_cast<double>(key.mValue.z)});
}

void putRotation(const aiQuatKey& key, std::vector<double>& values) {
    values.insert(values.end(), {static_cast<double>(key.mValue.x), static_cast<double>(key.mValue.y),
                                 static_cast<double>(key.mValue.z), static_cast<double>(key.mValue.w)});
}

/// How many morph targets a node's meshes have; 0 if none.
std::size_t morphCount(const aiScene& scene, const aiNode* node) {
    std::size_t most = 0;
    for (unsigned int m = 0; node && m < node->mNumMeshes; ++m) {
        most = std::max<std::size_t>(most, scene.mMeshes[node->mMeshes[m]]->mNumAnimMeshes);
    }
    return most;
}

void addMorphs(const aiScene& scene, const aiMeshMorphAnim& from, double ticks,
               std::span<const aiNode* const> originals, const std::string& where,
               SceneAnimation& animation) {
    std::string name = base::likelyUtf8(from.mName.C_Str());
    name = name.substr(0, name.find('*')); // the library marks the mesh of a node that way
    for (std::size_t n = 0; n < originals.size(); ++n) {
        const std::size_t count = morphCount(scene, originals[n]);
        bool ours = count > 0 && name == base::likelyUtf8(originals[n]->mName.C_Str());
        for (unsigned int m = 0; count > 0 && m < originals[n]->mNumMeshes; ++m) {
            ours = ours || name == base::likelyUtf8(scene.mMeshes[originals[n]->mMeshes[m]]->mName.C_Str());
        }
        if (!ours) {
            continue;
        }
        addChannel(animation, n, ChannelPath::weights, count, from.mKeys, from.mNumKeys, ticks, where,
                   [count](const aiMeshMorphKey& key, std::vector<double>& values) {
                       const std::size_t first = values.size();
                       values.resize(first + count, 0.0);
                       for (unsigned int i = 0; i < key.mNumValuesAndWeights; ++i) {
                           if (key.mValues[i] < count) {
                               values[first + key.mValues[i]] = key.mWeights[i];
                           }
                       }
                   });
    }
}

} // namespace

glm::dmat4 matrixOf(const aiMatrix4x4& from) {
    glm::dmat4 m(1.0);
    for (unsigned int row = 0; row < 4; ++row) {
        for (unsigned int column = 0; column < 4; ++column) {
            m[static_cast<int>(column)][static_cast<int>(row)] = static_cast<double>(from[row][column]);
        }
    }
    return m;
}

std::vector<SceneAnimation> readSceneAnimations(const aiScene& scene, const std::string& file,
                                                std::vector<SceneNode>& nodes,
                                                std::span<const aiNode* const> originals) {
    std::unordered_map<std::string, std::size_t> nodeNamed;
    for (std::size_t n = 0; n < nodes.size(); ++n) {
        nodeNamed.try_emplace(nodes[n].name, n);
    }
    std::vector<SceneAnimation> animations;
    for (unsigned int a = 0; a < scene.mNumAnimations; ++a) {
        const aiAnimation& from = *scene.mAnimations[a];
        const double ticks = from.mTicksPerSecond > 0.0 ? from.mTicksPerSecond : kDefaultTicks;
        SceneAnimation animation;
        animation.name =
            from.mName.length ? base::likelyUtf8(from.mName.C_Str()) : "clip " + std::to_string(a + 1);
        const std::string where = file + ": animation \"" + animation.name + "\"";
        for (unsigned int c = 0; c < from.mNumChannels; ++c) {
            const aiNodeAnim& channel = *from.mChannels[c];
            const auto found = nodeNamed.find(base::likelyUtf8(channel.mNodeName.C_Str()));
            if (found == nodeNamed.end()) {
                continue;
            }
            const std::size_t node = found->second;
            takeApart(nodes[node]);
            addChannel(animation, node, ChannelPath::translation, 3, channel.mPositionKeys,
                       channel.mNumPositionKeys, ticks, where, putVector);
            addChannel(animation, node, ChannelPath::rotation, 4, channel.mRotationKeys,
                       channel.mNumRotationKeys, ticks, where, putRotation);
            addChannel(animation, node, ChannelPath::scale, 3, channel.mScalingKeys, channel.mNumScalingKeys,
                       ticks, where, putVector);
        }
        for (unsigned int c = 0; c < from.mNumMorphMeshChannels; ++c) {
            addMorphs(scene, *from.mMorphMeshChannels[c], ticks, originals, where, animation);
        }
        if (!animation.channels.empty()) {
            animations.push_back(std::move(animation));
        }
    }
    return animations;
}

} // namespace ripple::importer
