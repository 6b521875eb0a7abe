#include "source/gltf_source.h"

#include "mesh/normals.h"
#include "source/gltf_mesh.h"
#include "source/open.h"

#include <algorithm>
#include <cmath>
#include <optional>
#include <set>

namespace ripple::source {

namespace {

class GltfSource : public FrameSource {
public:
    GltfSource(const std::filesystem::path& path, const OpenOptions& options) {
        GltfDocument document = loadGltf(path);
        findings_ = document.findings;
        nodes_ = readNodes(document);
        geometry_ = readGeometry(document, nodes_, options.mesh);
        findings_.insert(findings_.end(), geometry_.findings.begin(), geometry_.findings.end());
        animations_ = readAnimations(document, nodes_, findings_);
        makeClips(document);
        if (geometry_.madeNormals) {
            normals_.emplace(geometry_.mesh.indices, geometry_.mesh.vertexCount(),
                             geometry_.mesh.smoothGroup);
        }
        // mesh_ is what others see: the geometry in its rest pose.
        mesh_ = geometry_.mesh;
        pose(nullptr, 0.0, mesh_.positions, mesh_.normals);
    }

    const mesh::Mesh& mesh() const override { return mesh_; }
    std::span<const Clip> clips() const override { return clips_; }
    std::span<const MeshEntry> meshes() const override { return geometry_.entries; }
    std::span<const base::Finding> findings() const override { return findings_; }
    std::string format() const override { return "glTF 2.0"; }

    std::vector<std::string> joints() const override {
        std::set<std::size_t> used;
        for (const GltfPart& part : geometry_.parts) {
            if (part.skin >= 0) {
                const auto& joints = geometry_.skins[static_cast<std::size_t>(part.skin)].joints;
                used.insert(joints.begin(), joints.end());
            }
        }
        std::vector<std::string> names;
        for (const std::size_t node : used) {
            names.push_back(nodes_[node].name);
        }
        return names;
    }

    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        const GltfAnimation* animation = clip < animations_.size() ? &animations_[clip] : nullptr;
        const double inside = animation ? std::clamp(seconds, animation->start, animation->end) : 0.0;
        pose(animation, inside, positions, normals);
    }

private:
    void makeClips(const GltfDocument& document) {
        for (const GltfAnimation& animation : animations_) {
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
            clips_.push_back(std::move(clip));
        }
        if (clips_.empty()) {
            findings_.push_back(
                {"no-animation",
                 base::Severity::look,
                 {document.file, "has no animation", "its rest pose can be baked as a single frame"}});
            clips_.push_back({"rest", 0.0, 0.0, 0, 30.0});
        }
    }

    void pose(const GltfAnimation* animation, double seconds, std::span<glm::vec3> positions,
              std::span<glm::vec3> normals) const {
        const GltfPose pose = evaluatePose(nodes_, animation, seconds);
        const std::vector<std::vector<glm::mat4>> palettes = makePalettes(pose);
        std::vector<glm::vec3> morphedPositions;
        std::vector<glm::vec3> morphedNormals;
        for (const GltfPart& part : geometry_.parts) {
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
            const auto outN = normals.subspan(part.firstVertex, part.vertexCount);
            if (part.skin >= 0) {
                skin(part.weights, palettes[static_cast<std::size_t>(part.skin)], p, n, outP, outN);
            } else {
                transform(glm::mat4(pose.global[part.node]), p, n, outP, outN);
            }
        }
        if (normals_) {
            std::vector<glm::vec3> made(normals.size());
            normals_->build(positions, made);
            for (const GltfPart& part : geometry_.parts) {
                if (!part.hasNormals) {
                    std::copy_n(made.begin() + part.firstVertex, part.vertexCount,
                                normals.begin() + part.firstVertex);
                }
            }
        }
    }

    std::vector<std::vector<glm::mat4>> makePalettes(const GltfPose& pose) const {
        std::vector<std::vector<glm::mat4>> palettes(geometry_.skins.size());
        for (std::size_t s = 0; s < palettes.size(); ++s) {
            const GltfSkin& from = geometry_.skins[s];
            for (std::size_t j = 0; j < from.joints.size(); ++j) {
                palettes[s].push_back(glm::mat4(pose.global[from.joints[j]] * from.inverseBind[j]));
            }
        }
        return palettes;
    }

    static void morph(const GltfPart& part, const std::vector<double>& weights,
                      std::span<glm::vec3> positions, std::span<glm::vec3> normals) {
        const std::size_t count = std::min(weights.size(), part.morphs.size());
        for (std::size_t m = 0; m < count; ++m) {
            const auto weight = static_cast<float>(weights[m]);
            const GltfMorphTarget& target = part.morphs[m];
            for (std::size_t v = 0; weight != 0.0f && v < target.positions.size(); ++v) {
                positions[v] += weight * target.positions[v];
            }
            for (std::size_t v = 0; weight != 0.0f && v < target.normals.size(); ++v) {
                normals[v] += weight * target.normals[v];
            }
        }
    }

    std::vector<GltfNode> nodes_;
    GltfGeometry geometry_;
    std::vector<GltfAnimation> animations_;
    std::vector<Clip> clips_;
    std::optional<mesh::NormalBuilder> normals_;
    base::Findings findings_;
    mesh::Mesh mesh_;
};

} // namespace

std::shared_ptr<const FrameSource> openGltf(const std::filesystem::path& path, const OpenOptions& options,
                                            const base::Progress& progress) {
    progress.checkpoint();
    return std::make_shared<GltfSource>(path, options);
}

} // namespace ripple::source
