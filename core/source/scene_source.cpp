#include "source/scene_source.h"

#include "base/units.h"
#include "mesh/normals.h"
#include "mesh/tangents.h"
#include "source/normal_faults.h"
#include "source/scene_rig.h"
#include "source/scene_shape.h"

#include <algorithm>
#include <cmath>
#include <mutex>
#include <optional>

namespace ripple::source {

namespace {

class SceneSource : public FrameSource {
public:
    SceneSource(Scene scene, const Reading& reading)
        : file_(std::move(scene.file)),
          format_(std::move(scene.format)),
          files_(std::move(scene.files)),
          nodes_(std::move(scene.nodes)),
          geometry_(std::move(scene.geometry)),
          animations_(std::move(scene.animations)),
          space_(scene.space),
          findings_(std::move(scene.findings)) {
        findings_.insert(findings_.end(), geometry_.findings.begin(), geometry_.findings.end());
        influences_ = mostInfluences(geometry_);
        limitInfluences(geometry_, reading.mending.maxInfluences);
        for (std::size_t level = 0; level < reading.subdivisions; ++level) {
            geometry_ = subdivideScene(geometry_);
        }
        checkNormals();
        turnMirrored(reading.mending.keepMirrored);
        makeClips();
        makeSkeleton();
        if (geometry_.madeNormals) {
            normals_.emplace(geometry_.mesh.indices, geometry_.mesh.vertexCount(),
                             mesh::smoothGroupsOf(geometry_.mesh, false));
        }
        // mesh_ is what others see: the geometry in its rest pose.
        mesh_ = geometry_.mesh;
        pose(nullptr, 0.0, mesh_.positions, mesh_.normals);
        poseTangents();
    }

    const mesh::Mesh& mesh() const override { return mesh_; }
    std::span<const Clip> clips() const override { return clips_; }
    std::span<const MeshEntry> meshes() const override { return geometry_.entries; }
    std::span<const base::Finding> findings() const override { return findings_; }
    std::string format() const override { return format_; }
    std::vector<std::filesystem::path> files() const override { return files_; }
    Space space() const override { return space_; }
    const Skeleton& skeleton() const override { return skeleton_; }
    std::size_t influences() const override { return influences_; }

    std::vector<std::string> morphs() const override {
        std::vector<std::string> names;
        for (const ScenePart& part : geometry_.parts) {
            for (std::size_t m = names.size(); m < part.morphs.size(); ++m) {
                const std::string& name = part.morphs[m].name;
                names.push_back(name.empty() ? "morph " + std::to_string(m) : name);
            }
        }
        return names;
    }

    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        const SceneAnimation* animation = animationOf(clip);
        pose(animation, animation ? std::clamp(seconds, animation->start, animation->end) : 0.0, positions,
             normals);
    }

    void sampleJoints(std::size_t clip, double seconds, std::span<glm::vec3> places) const override {
        const SceneAnimation* animation = animationOf(clip);
        const double inside = animation ? std::clamp(seconds, animation->start, animation->end) : 0.0;
        const ScenePose pose = evaluatePose(nodes_, animation, inside);
        for (std::size_t j = 0; j < places.size(); ++j) {
            places[j] = glm::vec3(pose.global[jointNodes_[j]][3]);
        }
    }

    std::shared_ptr<const Rig> rig() const override {
        const SceneRig& made = sceneRig();
        return {rig_, &made.rig};
    }

    void sampleRig(std::size_t clip, double seconds, std::span<glm::dmat4> transforms) const override {
        const SceneAnimation* animation = animationOf(clip);
        const double inside = animation ? std::clamp(seconds, animation->start, animation->end) : 0.0;
        const ScenePose pose = evaluatePose(nodes_, animation, inside);
        const std::vector<RigJoint>& joints = sceneRig().joints;
        for (std::size_t j = 0; j < transforms.size(); ++j) {
            transforms[j] = pose.global[joints[j].node] * joints[j].bind;
        }
    }

    std::vector<float> jointWeights(std::size_t joint) const override {
        std::vector<float> result(mesh_.vertexCount(), 0.0f);
        for (const ScenePart& part : geometry_.parts) {
            if (part.skin < 0) {
                continue;
            }
            const auto& joints = geometry_.skins[static_cast<std::size_t>(part.skin)].joints;
            const SkinWeights& w = part.weights;
            for (std::size_t i = 0; i < w.weights.size(); ++i) {
                if (joints[w.joints[i]] == jointNodes_[joint]) {
                    result[part.firstVertex + i / w.influences] += w.weights[i];
                }
            }
        }
        return result;
    }

private:
    const SceneAnimation* animationOf(std::size_t clip) const {
        return clip < animations_.size() ? &animations_[clip] : nullptr;
    }

    /// Made when it is asked for first: few do.
    const SceneRig& sceneRig() const {
        std::call_once(rigMade_, [this] {
            auto made = std::make_shared<SceneRig>(
                makeRig(nodes_, geometry_, animations_, evaluatePose(nodes_, nullptr, 0.0), file_));
            if (normals_) {
                replaceMadeNormals(made->rig.positions, made->rig.normals);
            }
            for (const std::size_t p : turned_) {
                turnTangents(p, made->rig.tangents);
            }
            rig_ = std::move(made);
        });
        return *rig_;
    }

    void checkNormals() {
        mesh::NormalFaults faults;
        for (const ScenePart& part : geometry_.parts) {
            if (part.hasNormals) {
                faults.add(mesh::makeUnit(
                    std::span(geometry_.mesh.normals).subspan(part.firstVertex, part.vertexCount)));
            }
        }
        reportNormals(faults, file_, findings_);
    }

    /// A transform that mirrors turns the winding of its faces (glTF 2.0, section 3.7.4); here they are
    /// turned back so that the front stays outside.
    void turnMirrored(bool keep) {
        const ScenePose rest = evaluatePose(nodes_, nullptr, 0.0);
        const std::vector<std::vector<glm::mat4>> palettes = makePalettes(rest);
        std::size_t mirrored = 0;
        for (std::size_t p = 0; p < geometry_.parts.size(); ++p) {
            const ScenePart& part = geometry_.parts[p];
            const glm::dmat3 m = part.skin < 0
                                     ? glm::dmat3(rest.global[part.node])
                                     : glm::dmat3(palettes[static_cast<std::size_t>(part.skin)].empty()
                                                      ? glm::mat4(1.0f)
                                                      : palettes[static_cast<std::size_t>(part.skin)][0]);
            if (glm::determinant(m) >= 0.0) {
                continue;
            }
            ++mirrored;
            if (!keep) {
                turned_.push_back(p);
                turnFaces(p);
            }
        }
        if (mirrored > 0) {
            findings_.push_back(
                {"mirrored",
                 base::Severity::look,
                 {file_, base::plural(mirrored, "part") + " with a mirroring (negative) scale",
                  keep ? "faces stay as the file has them, inside out after the mirroring"
                       : "faces are turned so that their front stays outside; apply the scale "
                         "where the mesh was made"}});
        }
    }

    /// The other side of a part becomes its front. Posing takes normals to where the posed triangles' front
    /// is (by the cofactor matrix, whose sign a mirroring turns), so they turn with the faces.
    void turnFaces(std::size_t p) {
        const mesh::Part& drawn = geometry_.mesh.parts[p];
        for (std::uint32_t i = drawn.firstIndex; i < drawn.firstIndex + drawn.indexCount; i += 3) {
            std::swap(geometry_.mesh.indices[i + 1], geometry_.mesh.indices[i + 2]);
        }
        ScenePart& part = geometry_.parts[p];
        for (std::uint32_t v = 0; v < part.vertexCount; ++v) {
            geometry_.mesh.normals[part.firstVertex + v] *= -1.0f;
        }
        for (MorphTarget& target : part.morphs) {
            for (glm::vec3& normal : target.normals) {
                normal *= -1.0f;
            }
        }
    }

    /// The rest pose's tangents. Where faces are turned, so is the side on which their bitangent lies.
    void poseTangents() {
        if (mesh_.tangents.empty()) {
            return;
        }
        // Posing is affine at each vertex: what lies one tangent away shows where the tangent goes.
        const std::vector<glm::vec3> own = geometry_.mesh.positions;
        for (std::size_t v = 0; v < own.size(); ++v) {
            geometry_.mesh.positions[v] += glm::vec3(mesh_.tangents[v]);
        }
        std::vector<glm::vec3> away(own.size());
        pose(nullptr, 0.0, away, {});
        geometry_.mesh.positions = own;
        for (std::size_t v = 0; v < away.size(); ++v) {
            const glm::vec3 posed = mesh::perpendicular(away[v] - mesh_.positions[v], mesh_.normals[v]);
            mesh_.tangents[v] = glm::vec4(posed, mesh_.tangents[v].w);
        }
        for (const std::size_t p : turned_) {
            turnTangents(p, mesh_.tangents);
        }
    }

    void turnTangents(std::size_t p, std::span<glm::vec4> tangents) const {
        for (std::uint32_t v = 0; v < geometry_.parts[p].vertexCount && !tangents.empty(); ++v) {
            tangents[geometry_.parts[p].firstVertex + v].w *= -1.0f;
        }
    }

    /// Those of parts that have none come from the posed triangles.
    void replaceMadeNormals(std::span<const glm::vec3> positions, std::span<glm::vec3> normals) const {
        std::vector<glm::vec3> made(normals.size());
        normals_->build(positions, made);
        for (const ScenePart& part : geometry_.parts) {
            if (!part.hasNormals) {
                std::copy_n(made.begin() + part.firstVertex, part.vertexCount,
                            normals.begin() + part.firstVertex);
            }
        }
    }

    void makeClips() {
        for (const SceneAnimation& animation : animations_) {
            Clip clip;
            clip.name = animation.name;
            // Names must tell clips apart: on the command line and in the manifest.
            for (int n = 2; std::any_of(clips_.begin(), clips_.end(),
                                        [&](const Clip& other) { return other.name == clip.name; });
                 ++n) {
                clip.name = animation.name + " " + std::to_string(n);
            }
            clip.start = animation.start;
            clip.duration = animation.end - animation.start;
            clip.keyRate = keyRate(animation);
            if (clip.keyRate > 0.0) {
                clip.fps = clip.keyRate;
            }
            clips_.push_back(std::move(clip));
        }
        if (clips_.empty()) {
            findings_.push_back(
                {"no-animation",
                 base::Severity::look,
                 {file_, "has no animation", "its rest pose can be baked as a single frame"}});
            clips_.push_back({"rest", 0.0, 0.0, 0, 30.0});
        }
    }

    void makeSkeleton() {
        std::vector<int> jointOfNode(nodes_.size(), -1);
        for (const ScenePart& part : geometry_.parts) {
            if (part.skin >= 0) {
                for (const std::size_t node : geometry_.skins[static_cast<std::size_t>(part.skin)].joints) {
                    jointOfNode[node] = 0;
                }
            }
        }
        for (std::size_t n = 0; n < nodes_.size(); ++n) {
            if (jointOfNode[n] == 0) {
                jointOfNode[n] = static_cast<int>(jointNodes_.size());
                jointNodes_.push_back(n);
                skeleton_.names.push_back(nodes_[n].name);
            }
        }
        // Of each node the nearest joint above it; −1: none.
        std::vector<int> above(nodes_.size(), -1);
        for (const std::size_t n : parentsFirst(nodes_)) {
            if (nodes_[n].parent >= 0) {
                const auto parent = static_cast<std::size_t>(nodes_[n].parent);
                above[n] = jointOfNode[parent] >= 0 ? jointOfNode[parent] : above[parent];
            }
        }
        for (const std::size_t node : jointNodes_) {
            skeleton_.parents.push_back(above[node]);
        }
    }

    void pose(const SceneAnimation* animation, double seconds, std::span<glm::vec3> positions,
              std::span<glm::vec3> normals) const {
        const ScenePose pose = evaluatePose(nodes_, animation, seconds);
        const std::vector<std::vector<glm::mat4>> palettes = makePalettes(pose);
        const bool wanted = !normals.empty();
        std::vector<glm::vec3> morphedPositions;
        std::vector<glm::vec3> morphedNormals;
        for (const ScenePart& part : geometry_.parts) {
            std::span<const glm::vec3> p(geometry_.mesh.positions.data() + part.firstVertex,
                                         part.vertexCount);
            std::span<const glm::vec3> n(geometry_.mesh.normals.data() + part.firstVertex, part.vertexCount);
            if (!part.morphs.empty()) {
                morphedPositions.assign(p.begin(), p.end());
                morphedNormals.assign(n.begin(), n.end());
                const auto& weights =
                    pose.weights[part.node].empty() ? part.restMorphWeights : pose.weights[part.node];
                morph(part, weights, morphedPositions, morphedNormals);
                p = morphedPositions;
                n = morphedNormals;
            }
            const auto outP = positions.subspan(part.firstVertex, part.vertexCount);
            const auto outN = wanted ? normals.subspan(part.firstVertex, part.vertexCount) : normals;
            if (part.skin >= 0) {
                skin(part.weights, palettes[static_cast<std::size_t>(part.skin)], p, n, outP, outN);
            } else {
                transform(glm::mat4(pose.global[part.node]), p, n, outP, outN);
            }
        }
        if (normals_ && wanted) {
            replaceMadeNormals(positions, normals);
        }
    }

    std::vector<std::vector<glm::mat4>> makePalettes(const ScenePose& pose) const {
        std::vector<std::vector<glm::mat4>> palettes(geometry_.skins.size());
        for (std::size_t s = 0; s < palettes.size(); ++s) {
            const SceneSkin& from = geometry_.skins[s];
            for (std::size_t j = 0; j < from.joints.size(); ++j) {
                palettes[s].push_back(glm::mat4(pose.global[from.joints[j]] * from.inverseBind[j]));
            }
        }
        return palettes;
    }

    std::string file_;
    std::string format_;
    std::vector<std::filesystem::path> files_;
    std::vector<SceneNode> nodes_;
    SceneGeometry geometry_;
    std::vector<SceneAnimation> animations_;
    Space space_;
    std::vector<Clip> clips_;
    Skeleton skeleton_;
    std::vector<std::size_t> jointNodes_; // joints
    std::size_t influences_ = 0;
    std::vector<std::size_t> turned_; // parts whose faces are turned
    std::optional<mesh::NormalBuilder> normals_;
    base::Findings findings_;
    mesh::Mesh mesh_;
    mutable std::once_flag rigMade_;
    mutable std::shared_ptr<const SceneRig> rig_;
};

} // namespace

std::shared_ptr<const FrameSource> playScene(Scene scene, const Reading& reading) {
    return std::make_shared<SceneSource>(std::move(scene), reading);
}

} // namespace ripple::source
