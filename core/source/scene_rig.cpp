#include "source/scene_rig.h"

#include "mesh/tangents.h"
#include "source/influences.h"
#include "source/scene_shape.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>

#include <glm/geometric.hpp>
#include <glm/mat3x3.hpp>
#include <glm/matrix.hpp>

namespace ripple::source {

namespace {

double largestIn(const glm::dmat4& m) {
    double largest = 0.0;
    for (int c = 0; c < 4; ++c) {
        for (int r = 0; r < 4; ++r) {
            largest = std::max(largest, std::abs(m[c][r]));
        }
    }
    return largest;
}

/// Equal but for the rounding of numbers that files hold in single precision.
bool alike(const glm::dmat4& a, const glm::dmat4& b) {
    return largestIn(a - b) <= 1e-7 * std::max(largestIn(a), largestIn(b));
}

bool isInvertible(const glm::dmat4& m) {
    const double scale = largestIn(glm::dmat4(glm::dmat3(m)));
    return std::abs(glm::determinant(glm::dmat3(m))) > 1e-9 * scale * scale * scale;
}

/// Throws where something beside joints moves a vertex.
void requireJointsAlone(std::span<const SceneNode> nodes, const SceneGeometry& geometry,
                        std::span<const SceneAnimation> animations, const std::string& file) {
    for (const ScenePart& part : geometry.parts) {
        for (const SceneAnimation& animation : animations) {
            for (const SceneChannel& channel : animation.channels) {
                if (!part.morphs.empty() && channel.node == part.node &&
                    channel.path == ChannelPath::weights) {
                    base::fail(file,
                               "clip \"" + animation.name + "\" moves morph targets of \"" +
                                   nodes[part.node].name + "\", which joints do not hold",
                               "bake the vertices or shared shapes, or leave the mesh out");
                }
            }
        }
    }
}

class RigMaker {
public:
    RigMaker(std::span<const SceneNode> nodes, const SceneGeometry& geometry, const ScenePose& rest)
        : nodes_(nodes),
          geometry_(geometry),
          rest_(rest),
          vertices_(geometry.mesh.vertexCount()) {
        made_.rig.positions = geometry.mesh.positions;
        made_.rig.normals = geometry.mesh.normals;
        made_.rig.tangents = geometry.mesh.tangents;
    }

    SceneRig make() {
        chooseBinds();
        for (const ScenePart& part : geometry_.parts) {
            const glm::dmat4 bind = bindOf(part);
            place(part, bind);
            follow(part, glm::inverse(bind));
        }
        made_.rig.weights = packInfluences(vertices_);
        normaliseWeights(made_.rig.weights);
        return std::move(made_);
    }

private:
    /// Of each skin the transform that puts its mesh as it was bound into the scene: that of the joint which
    /// most of it follows, in the rest pose. Where the rest pose is that in which it was bound, all its
    /// joints have the same.
    void chooseBinds() {
        binds_.resize(geometry_.skins.size());
        for (std::size_t s = 0; s < binds_.size(); ++s) {
            const SceneSkin& skin = geometry_.skins[s];
            for (std::size_t earlier = 0; earlier < s && !binds_[s]; ++earlier) {
                if (shareJoints(geometry_.skins[earlier], skin)) {
                    binds_[s] = binds_[earlier];
                }
            }
            if (binds_[s]) {
                continue;
            }
            std::vector<double> heft(skin.joints.size(), 0.0);
            for (const ScenePart& part : geometry_.parts) {
                for (std::size_t i = 0; part.skin == static_cast<int>(s) && i < part.weights.weights.size();
                     ++i) {
                    heft[part.weights.joints[i]] += static_cast<double>(part.weights.weights[i]);
                }
            }
            double most = -1.0;
            for (std::size_t j = 0; j < heft.size(); ++j) {
                const glm::dmat4 at = rest_.global[skin.joints[j]] * skin.inverseBind[j];
                if (heft[j] > most && isInvertible(at)) {
                    most = heft[j];
                    binds_[s] = at;
                }
            }
        }
    }

    static bool shareJoints(const SceneSkin& a, const SceneSkin& b) {
        for (std::size_t i = 0; i < a.joints.size(); ++i) {
            const auto same = std::find(b.joints.begin(), b.joints.end(), a.joints[i]);
            if (same != b.joints.end()) {
                return alike(a.inverseBind[i],
                             b.inverseBind[static_cast<std::size_t>(same - b.joints.begin())]);
            }
        }
        return false;
    }

    glm::dmat4 bindOf(const ScenePart& part) const {
        if (part.skin >= 0) {
            return binds_[static_cast<std::size_t>(part.skin)].value_or(glm::dmat4(1.0));
        }
        return isInvertible(rest_.global[part.node]) ? rest_.global[part.node] : glm::dmat4(1.0);
    }

    /// Morph targets keep the weights that they have at rest.
    void place(const ScenePart& part, const glm::dmat4& bind) {
        std::vector<glm::vec3> positions(geometry_.mesh.positions.begin() + part.firstVertex,
                                         geometry_.mesh.positions.begin() + part.firstVertex +
                                             part.vertexCount);
        std::vector<glm::vec3> normals(geometry_.mesh.normals.begin() + part.firstVertex,
                                       geometry_.mesh.normals.begin() + part.firstVertex + part.vertexCount);
        const auto& weights =
            rest_.weights[part.node].empty() ? part.restMorphWeights : rest_.weights[part.node];
        morph(part, weights, positions, normals);
        const std::span outP(made_.rig.positions.data() + part.firstVertex, part.vertexCount);
        const std::span outN(made_.rig.normals.data() + part.firstVertex, part.vertexCount);
        transform(glm::mat4(bind), positions, normals, outP, outN);
        for (std::uint32_t v = 0; v < part.vertexCount && !made_.rig.tangents.empty(); ++v) {
            glm::vec4& tangent = made_.rig.tangents[part.firstVertex + v];
            const glm::vec3 turned(glm::dmat3(bind) * glm::dvec3(tangent));
            tangent = glm::vec4(mesh::perpendicular(turned, outN[v]), tangent.w);
        }
    }

    void follow(const ScenePart& part, const glm::dmat4& unbind) {
        if (part.skin < 0) {
            const std::uint16_t joint = jointAt(part.node, unbind);
            for (std::uint32_t v = 0; v < part.vertexCount; ++v) {
                vertices_[part.firstVertex + v] = {{joint, 1.0f}};
            }
            return;
        }
        const SceneSkin& skin = geometry_.skins[static_cast<std::size_t>(part.skin)];
        std::vector<std::optional<std::uint16_t>> known(skin.joints.size());
        for (std::uint32_t v = 0; v < part.vertexCount; ++v) {
            Influences& own = vertices_[part.firstVertex + v];
            addInfluences(own, part.weights, v, 1.0f);
            for (auto& [joint, weight] : own) {
                if (!known[joint]) {
                    known[joint] = jointAt(skin.joints[joint], skin.inverseBind[joint] * unbind);
                }
                joint = *known[joint];
            }
            strongestFirst(own);
        }
    }

    std::uint16_t jointAt(std::size_t node, const glm::dmat4& bind) {
        const auto found = std::find_if(made_.joints.begin(), made_.joints.end(), [&](const RigJoint& joint) {
            return joint.node == node && alike(joint.bind, bind);
        });
        if (found != made_.joints.end()) {
            return static_cast<std::uint16_t>(found - made_.joints.begin());
        }
        if (made_.joints.size() > std::numeric_limits<std::uint16_t>::max()) {
            base::fail("joints", "are more than 65 536", "leave meshes out, or bake the vertices");
        }
        made_.joints.push_back({node, bind});
        made_.rig.joints.push_back(nodes_[node].name.empty() ? "node " + std::to_string(node)
                                                             : nodes_[node].name);
        return static_cast<std::uint16_t>(made_.joints.size() - 1);
    }

    std::span<const SceneNode> nodes_;
    const SceneGeometry& geometry_;
    const ScenePose& rest_;
    std::vector<std::optional<glm::dmat4>> binds_; ///< skins
    std::vector<Influences> vertices_;
    SceneRig made_;
};

} // namespace

SceneRig makeRig(std::span<const SceneNode> nodes, const SceneGeometry& geometry,
                 std::span<const SceneAnimation> animations, const ScenePose& rest, const std::string& file) {
    requireJointsAlone(nodes, geometry, animations, file);
    return RigMaker(nodes, geometry, rest).make();
}

} // namespace ripple::source
