#include "source/clip_files.h"

#include "base/files.h"
#include "base/text.h"
#include "base/units.h"
#include "source/gltf_source.h"
#include "source/layered.h"
#include "source/scene_file.h"

#include <algorithm>
#include <map>
#include <set>

#include <glm/geometric.hpp>

namespace ripple::source {

namespace {

constexpr const char* kSameRig = "export it from the rig that the mesh has, or rename its joints";

std::string parentName(std::span<const SceneNode> nodes, std::size_t node) {
    return nodes[node].parent < 0 ? "" : nodes[static_cast<std::size_t>(nodes[node].parent)].name;
}

/// Which node of the scene each node of the other is, by name; −1: none.
std::vector<int> matchNodes(const Scene& scene, const Scene& other) {
    std::map<std::string, int> byName;
    for (std::size_t n = 0; n < scene.nodes.size(); ++n) {
        byName.try_emplace(scene.nodes[n].name, static_cast<int>(n));
    }
    std::vector<int> matched;
    for (const SceneNode& node : other.nodes) {
        const auto found = node.name.empty() ? byName.end() : byName.find(node.name);
        matched.push_back(found == byName.end() ? -1 : found->second);
    }
    return matched;
}

std::set<std::size_t> movedNodes(const Scene& scene) {
    std::set<std::size_t> moved;
    for (const SceneAnimation& animation : scene.animations) {
        for (const SceneChannel& channel : animation.channels) {
            moved.insert(channel.node);
        }
    }
    return moved;
}

std::set<std::size_t> jointsOf(const Scene& scene) {
    std::set<std::size_t> joints;
    for (const SceneSkin& skin : scene.geometry.skins) {
        joints.insert(skin.joints.begin(), skin.joints.end());
    }
    return joints;
}

/// Throws unless what the other file moves is in the scene too.
void requireSameSkeleton(const Scene& scene, const Scene& other, std::span<const int> matched) {
    if (other.animations.empty()) {
        base::fail(other.file, "has no animation", "name a file that holds a clip");
    }
    const std::set<std::size_t> joints = jointsOf(other);
    std::vector<std::string> missing;
    std::vector<std::string> elsewhere;
    std::size_t found = 0;
    for (const std::size_t node : movedNodes(other)) {
        const int own = matched[node];
        if (own < 0) {
            // Cameras, lights and controls may be absent; joints may not.
            if (joints.empty() || joints.contains(node)) {
                const std::string& name = other.nodes[node].name;
                missing.push_back(name.empty() ? "node " + std::to_string(node) : name);
            }
            continue;
        }
        ++found;
        const std::string parent = parentName(other.nodes, node);
        const std::string ownParent = parentName(scene.nodes, static_cast<std::size_t>(own));
        if (joints.contains(node) && other.nodes[node].parent >= 0 &&
            joints.contains(static_cast<std::size_t>(other.nodes[node].parent)) && parent != ownParent) {
            elsewhere.push_back(other.nodes[node].name);
        }
    }
    if (found == 0) {
        base::fail(other.file,
                   "moves another skeleton: none of its " + base::plural(missing.size(), "joint") +
                       " is in " + scene.file,
                   kSameRig);
    }
    if (!missing.empty()) {
        base::fail(other.file,
                   "moves " + base::plural(missing.size(), "joint") + " that " + scene.file +
                       " has not: " + base::listed(missing),
                   kSameRig);
    }
    if (!elsewhere.empty()) {
        base::fail(other.file,
                   "has joints below other parents than " + scene.file + ": " + base::listed(elsewhere),
                   kSameRig);
    }
}

SceneChannel constantOf(std::size_t node, ChannelPath path, std::vector<double> value) {
    SceneChannel channel;
    channel.node = node;
    channel.path = path;
    channel.interpolation = Interpolation::step;
    channel.width = value.size();
    channel.times = {0.0};
    channel.values = std::move(value);
    return channel;
}

/// Where a node rests otherwise in the other file and is left still there, it is put there.
void addRests(const SceneNode& own, const SceneNode& other, std::size_t node, const std::set<int>& paths,
              std::vector<SceneChannel>& channels) {
    constexpr double kSame = 1e-5;
    const auto still = [&](ChannelPath path) { return !paths.contains(static_cast<int>(path)); };
    if (own.hasMatrix || other.hasMatrix) {
        return; // animated nodes have none (glTF 2.0, section 3.6.3)
    }
    if (still(ChannelPath::translation) &&
        glm::length(own.translation - other.translation) > kSame * (1.0 + glm::length(own.translation))) {
        channels.push_back(constantOf(node, ChannelPath::translation,
                                      {other.translation.x, other.translation.y, other.translation.z}));
    }
    const double cosine = std::abs(glm::dot(own.rotation, other.rotation));
    if (still(ChannelPath::rotation) && cosine < 1.0 - kSame * kSame) {
        channels.push_back(
            constantOf(node, ChannelPath::rotation,
                       {other.rotation.x, other.rotation.y, other.rotation.z, other.rotation.w}));
    }
    if (still(ChannelPath::scale) &&
        glm::length(own.scale - other.scale) > kSame * (1.0 + glm::length(own.scale))) {
        channels.push_back(
            constantOf(node, ChannelPath::scale, {other.scale.x, other.scale.y, other.scale.z}));
    }
}

/// A name that no other clip has: the file's own; where that is taken the file's name, which stands in front
/// of it if the file has several.
std::string freeName(const Scene& scene, const Scene& other, const std::string& name) {
    const std::string stem = std::filesystem::path(other.file).stem().string();
    const auto taken = [&](const std::string& wanted) {
        return wanted.empty() || std::any_of(scene.animations.begin(), scene.animations.end(),
                                             [&](const SceneAnimation& each) { return each.name == wanted; });
    };
    const bool alone = other.animations.size() == 1;
    return !taken(name) ? name : alone && !taken(stem) ? stem : stem + " " + name;
}

/// Clips of several sequences whose vertices correspond by their order.
class ClipSet : public Layered {
public:
    ClipSet(std::shared_ptr<const FrameSource> first, std::vector<std::shared_ptr<const FrameSource>> others)
        : Layered(std::move(first)),
          members_(std::move(others)) {
        members_.insert(members_.begin(), below_);
        for (std::size_t m = 0; m < members_.size(); ++m) {
            for (std::size_t c = 0; c < members_[m]->clips().size(); ++c) {
                Clip clip = members_[m]->clips()[c];
                for (int n = 2; std::any_of(clips_.begin(), clips_.end(),
                                            [&](const Clip& other) { return other.name == clip.name; });
                     ++n) {
                    clip.name = members_[m]->clips()[c].name + " " + std::to_string(n);
                }
                clips_.push_back(std::move(clip));
                places_.push_back({m, c});
            }
            const auto own = members_[m]->findings();
            findings_.insert(findings_.end(), own.begin(), own.end());
        }
    }

    std::span<const Clip> clips() const override { return clips_; }
    std::span<const base::Finding> findings() const override { return findings_; }
    std::vector<std::filesystem::path> files() const override {
        std::vector<std::filesystem::path> all;
        for (const auto& member : members_) {
            const auto own = member->files();
            all.insert(all.end(), own.begin(), own.end());
        }
        return all;
    }
    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        members_[places_[clip].member]->sample(places_[clip].clip, seconds, positions, normals);
    }

private:
    struct Place {
        std::size_t member = 0;
        std::size_t clip = 0;
    };
    std::vector<std::shared_ptr<const FrameSource>> members_;
    std::vector<Clip> clips_;
    std::vector<Place> places_; ///< clips
    base::Findings findings_;
};

OpenRequest withoutClipFiles(const OpenRequest& request) {
    OpenRequest plain = request;
    plain.reading.clipFiles.clear();
    return plain;
}

} // namespace

std::filesystem::path clipFileAt(const std::filesystem::path& source, const std::string& clipFile) {
    return (base::isFolder(source) ? source : source.parent_path()) / clipFile;
}

std::string clipFileName(const std::filesystem::path& source, const std::filesystem::path& file) {
    const std::filesystem::path folder =
        std::filesystem::absolute(base::isFolder(source) ? source : source.parent_path()).lexically_normal();
    const std::filesystem::path whole = std::filesystem::absolute(file).lexically_normal();
    const std::filesystem::path near = whole.lexically_relative(folder);
    return (near.empty() ? whole : near).generic_string();
}

void takeMotion(Scene& scene, Scene animated) {
    const std::vector<int> matched = matchNodes(scene, animated);
    requireSameSkeleton(scene, animated, matched);
    for (SceneAnimation& animation : animated.animations) {
        std::map<std::size_t, std::set<int>> paths;
        std::vector<SceneChannel> channels;
        for (SceneChannel& channel : animation.channels) {
            paths[channel.node].insert(static_cast<int>(channel.path));
            // Weights are those of another mesh's morph targets.
            if (matched[channel.node] >= 0 && channel.path != ChannelPath::weights) {
                channels.push_back(std::move(channel));
                channels.back().node = static_cast<std::size_t>(matched[channels.back().node]);
            }
        }
        for (std::size_t n = 0; n < animated.nodes.size(); ++n) {
            if (matched[n] >= 0) {
                const auto own = static_cast<std::size_t>(matched[n]);
                addRests(scene.nodes[own], animated.nodes[n], own, paths[n], channels);
            }
        }
        animation.channels = std::move(channels);
        animation.name = freeName(scene, animated, animation.name);
        scene.animations.push_back(std::move(animation));
    }
    scene.files.insert(scene.files.end(), animated.files.begin(), animated.files.end());
    scene.findings.insert(scene.findings.end(), animated.findings.begin(), animated.findings.end());
}

void takeClipFiles(Scene& scene, const std::filesystem::path& path, const OpenRequest& request,
                   const base::Progress& progress) {
    for (const std::string& file : request.reading.clipFiles) {
        const std::filesystem::path at = clipFileAt(path, file);
        OpenRequest plain = withoutClipFiles(request);
        plain.reading.meshes.clear();
        const std::string extension = base::extensionOf(at);
        if (extension == ".gltf" || extension == ".glb") {
            takeMotion(scene, gltfMotion(at, plain, progress));
        } else {
            takeMotion(scene, sceneFileScene(at, plain, progress));
        }
    }
}

std::shared_ptr<const FrameSource> withClipFiles(std::shared_ptr<const FrameSource> source,
                                                 const std::filesystem::path& path,
                                                 const OpenRequest& request, const base::Progress& progress) {
    std::vector<std::shared_ptr<const FrameSource>> others;
    for (const std::string& file : request.reading.clipFiles) {
        const std::filesystem::path at = clipFileAt(path, file);
        auto other = openPlain(at, withoutClipFiles(request), progress);
        const mesh::Mesh& mesh = source->mesh();
        const std::string name = base::likelyUtf8(at.filename().string());
        if (other->mesh().vertexCount() != mesh.vertexCount()) {
            base::fail(name,
                       "has " + base::plural(other->mesh().vertexCount(), "vertex") + ", " +
                           base::likelyUtf8(path.filename().string()) + " has " +
                           base::countText(mesh.vertexCount()),
                       "name a clip of the same mesh");
        }
        if (other->mesh().indices != mesh.indices) {
            base::fail(name,
                       "has as many vertices as " + base::likelyUtf8(path.filename().string()) +
                           " and other triangles",
                       "name a clip of the same mesh, with its vertices in the same order");
        }
        others.push_back(std::move(other));
    }
    return std::make_shared<ClipSet>(std::move(source), std::move(others));
}

} // namespace ripple::source
