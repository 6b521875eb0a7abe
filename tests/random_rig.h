#pragma once

#include "source/reading.h"
#include "source/scene_source.h"

#include <cmath>
#include <memory>
#include <random>
#include <string>

namespace ripple::tests {

/// What a random rig is made of.
struct RigPlan {
    std::size_t joints = 12;
    std::size_t influences = 4; ///< of the vertex that follows most
    bool uneven = false;        ///< scales differ by axis, which shears what hangs below
    bool mirrored = false;
    bool bindApart = false; ///< the rest pose is not that in which the mesh was bound
    unsigned seed = 1;
    /// Each joint turns about an axis of its own by as many degrees from key to key, on a way along that axis
    /// (a screw); 0: by little, anyhow.
    double degreesPerKey = 0.0;
};

/// A cloud of triangles about a random tree of joints, with one clip of two seconds keyed six times a second.
inline source::Scene randomScene(const RigPlan& plan) {
    std::mt19937 random(plan.seed);
    const auto between = [&](double least, double most) {
        return std::uniform_real_distribution<double>(least, most)(random);
    };
    const auto vector = [&](double most) {
        return glm::dvec3(between(-most, most), between(-most, most), between(-most, most));
    };
    const auto rotation = [&](double most) {
        const glm::dvec3 half = 0.5 * vector(most);
        return glm::normalize(glm::dquat(1.0, half.x, half.y, half.z));
    };
    source::Scene scene;
    scene.file = "rig";
    scene.format = "random rig";
    source::SceneAnimation animation{"move", 0.0, 2.0, {}};
    for (std::size_t j = 0; j < plan.joints; ++j) {
        source::SceneNode node;
        node.name = "joint " + std::to_string(j);
        node.parent = j == 0 ? -1 : static_cast<int>(random() % j);
        node.translation = vector(0.3);
        node.rotation = rotation(1.0);
        if (plan.uneven) {
            node.scale = {between(0.8, 1.2), between(0.8, 1.2), between(0.8, 1.2)};
        } else if (plan.joints < 40) {
            node.scale = glm::dvec3(between(0.9, 1.1));
        }
        if (plan.mirrored && j == 0) {
            node.scale.x = plan.uneven ? -node.scale.x : node.scale.x;
            node.scale = plan.uneven ? node.scale : -node.scale;
        }
        scene.nodes.push_back(node);
        const glm::dvec3 screw = plan.degreesPerKey > 0.0 ? glm::normalize(vector(1.0)) : glm::dvec3(0.0);
        for (const auto path : {source::ChannelPath::rotation, source::ChannelPath::translation}) {
            source::SceneChannel channel;
            channel.node = j;
            channel.path = path;
            channel.width = path == source::ChannelPath::rotation ? 4 : 3;
            for (int key = 0; key <= 12; ++key) {
                channel.times.push_back(key / 6.0);
                if (plan.degreesPerKey > 0.0) {
                    const glm::dquat q =
                        node.rotation * glm::angleAxis(glm::radians(key * plan.degreesPerKey), screw);
                    const glm::dvec3 t = node.translation + node.rotation * screw * (0.05 * key);
                    path == source::ChannelPath::rotation
                        ? channel.values.insert(channel.values.end(), {q.x, q.y, q.z, q.w})
                        : channel.values.insert(channel.values.end(), {t.x, t.y, t.z});
                } else if (path == source::ChannelPath::rotation) {
                    const glm::dquat q = node.rotation * rotation(0.4);
                    channel.values.insert(channel.values.end(), {q.x, q.y, q.z, q.w});
                } else {
                    const glm::dvec3 t = node.translation + vector(0.02);
                    channel.values.insert(channel.values.end(), {t.x, t.y, t.z});
                }
            }
            animation.channels.push_back(std::move(channel));
        }
    }
    scene.animations = {animation};

    const source::ScenePose rest = source::evaluatePose(scene.nodes, nullptr, 0.0);
    source::SceneSkin skin;
    for (std::size_t j = 0; j < plan.joints; ++j) {
        skin.joints.push_back(j);
        glm::dmat4 bind = rest.global[j];
        if (plan.bindApart) {
            bind[3] += glm::dvec4(vector(0.05), 0.0);
        }
        skin.inverseBind.push_back(glm::inverse(bind));
    }
    source::SceneNode body;
    body.name = "body";
    body.skin = 0;
    scene.nodes.push_back(body);

    source::SceneGeometry& geometry = scene.geometry;
    geometry.skins = {skin};
    constexpr std::uint32_t kVertices = 300;
    source::ScenePart part;
    part.node = plan.joints;
    part.skin = 0;
    part.vertexCount = kVertices;
    part.weights.influences = std::max<std::size_t>(plan.influences, 4);
    for (std::uint32_t v = 0; v < kVertices; ++v) {
        const std::size_t near = random() % plan.joints;
        geometry.mesh.positions.push_back(glm::vec3(glm::dvec3(rest.global[near][3]) + vector(0.2)));
        geometry.mesh.normals.push_back(
            glm::normalize(glm::vec3(vector(1.0)) + glm::vec3(0.0f, 1e-3f, 0.0f)));
        geometry.mesh.indices.push_back(v);
        const std::size_t used = 1 + random() % plan.influences;
        for (std::size_t i = 0; i < part.weights.influences; ++i) {
            part.weights.joints.push_back(static_cast<std::uint16_t>((near + 7 * i) % plan.joints));
            part.weights.weights.push_back(i < used ? static_cast<float>(between(0.05, 1.0)) : 0.0f);
        }
    }
    source::normaliseWeights(part.weights);
    geometry.mesh.parts.push_back({});
    geometry.mesh.parts[0].vertexCount = kVertices;
    geometry.mesh.parts[0].indexCount = kVertices;
    geometry.mesh.materials.push_back({});
    geometry.parts = {part};
    geometry.entries = {{"body", kVertices, kVertices / 3, true}};
    return scene;
}

inline std::shared_ptr<const source::FrameSource> randomRig(const RigPlan& plan) {
    return source::playScene(randomScene(plan), {});
}

/// Fifty of them: 1 to 300 joints, 1 to 12 influences, uneven, mirrored, bound apart, and all of that.
inline std::vector<RigPlan> manyRigs() {
    std::vector<RigPlan> plans;
    for (unsigned i = 0; i < 50; ++i) {
        RigPlan plan;
        plan.seed = 100 + i;
        plan.joints = i == 0 ? 1 : i == 49 ? 300 : 2 + (i * i) % 90;
        plan.influences = 1 + i % 12;
        plan.uneven = i % 3 == 1;
        plan.mirrored = i % 5 == 2;
        plan.bindApart = i % 4 == 3;
        plans.push_back(plan);
    }
    return plans;
}

} // namespace ripple::tests
