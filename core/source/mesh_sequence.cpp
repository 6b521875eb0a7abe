#include "source/mesh_sequence.h"

#include "mesh/normals.h"
#include "source/normal_faults.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include <glm/common.hpp>
#include <glm/geometric.hpp>

namespace ripple::source {

namespace {

constexpr double kDefaultRate = 30.0;

class MeshSequence : public FrameSource {
public:
    MeshSequence(SequenceParts parts, std::size_t cacheBytes)
        : parts_(std::move(parts)),
          cache_(parts_.reader->quick() ? 0 : cacheBytes) {
        const auto first = frame(0);
        mesh::Mesh& mesh = parts_.mesh;
        const std::size_t vertices = first->positions.size();
        if (first->normals.empty()) {
            if (mesh.smoothGroup.empty()) {
                // Of a mesh that came with normals their hard edges stay.
                const bool hasOwn = mesh.positions.size() == vertices && mesh.normals.size() == vertices;
                mesh.positions.resize(vertices);
                if (!hasOwn) {
                    std::copy(first->positions.begin(), first->positions.end(), mesh.positions.begin());
                }
                mesh.smoothGroup = mesh::smoothGroupsOf(mesh, hasOwn);
            }
            builder_.emplace(mesh.indices, vertices, mesh.smoothGroup);
        } else {
            std::vector<glm::vec3> normals(first->normals.begin(), first->normals.end());
            reportNormals(mesh::makeUnit(normals), parts_.name, parts_.findings);
        }
        mesh.positions.resize(vertices);
        mesh.normals.resize(vertices);
        fill(*first, mesh.positions, mesh.normals);
        clip_.name = parts_.clip;
        clip_.frames = parts_.reader->frames();
        clip_.rateKnown = parts_.rate > 0.0;
        clip_.fps = clip_.rateKnown ? parts_.rate : kDefaultRate;
        clip_.duration = static_cast<double>(clip_.frames - 1) / clip_.fps;
        entry_ = {parts_.name, vertices, mesh.triangleCount(), true};
        describe();
    }

    const mesh::Mesh& mesh() const override { return parts_.mesh; }
    std::span<const Clip> clips() const override { return {&clip_, 1}; }
    std::span<const MeshEntry> meshes() const override { return {&entry_, 1}; }
    std::span<const base::Finding> findings() const override { return parts_.findings; }
    std::string format() const override { return parts_.format; }
    std::vector<std::filesystem::path> files() const override { return parts_.files; }

    void sample(std::size_t, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        // A frame's own time may come a rounding away from it; it must give that frame exactly.
        double at = std::clamp(seconds * clip_.fps, 0.0, static_cast<double>(clip_.frames - 1));
        if (std::abs(at - std::round(at)) < 1e-6) {
            at = std::round(at);
        }
        const auto f = static_cast<std::size_t>(at);
        const auto t = static_cast<float>(at - static_cast<double>(f));
        fill(*frame(f), positions, normals);
        if (t > 0.0f) {
            std::vector<glm::vec3> nextPositions(positions.size());
            std::vector<glm::vec3> nextNormals(normals.size());
            fill(*frame(f + 1), nextPositions, nextNormals);
            for (std::size_t v = 0; v < positions.size(); ++v) {
                positions[v] = glm::mix(positions[v], nextPositions[v], t);
            }
            for (std::size_t v = 0; v < normals.size(); ++v) {
                const glm::vec3 normal = glm::mix(normals[v], nextNormals[v], t);
                const float length = glm::length(normal);
                normals[v] = length > 0.0f ? normal / length : glm::vec3(0.0f);
            }
        }
    }

private:
    std::shared_ptr<const StoredFrame> frame(std::size_t f) const {
        return cache_.get(f, [&](StoredFrame& out) { parts_.reader->read(f, out); });
    }

    void fill(const StoredFrame& from, std::span<glm::vec3> positions, std::span<glm::vec3> normals) const {
        std::copy(from.positions.begin(), from.positions.end(), positions.begin());
        if (normals.empty()) {
            return;
        }
        if (builder_) {
            builder_->build(positions, normals);
        } else {
            std::copy(from.normals.begin(), from.normals.end(), normals.begin());
            mesh::makeUnit(normals);
        }
    }

    void describe() {
        const auto add = [this](const char* id, base::Severity severity, const char* what, const char* fix) {
            parts_.findings.push_back({id, severity, {parts_.name, what, fix}});
        };
        if (clip_.frames == 1) {
            add("single-frame", base::Severity::look, "is a single frame: nothing moves",
                "name the files of a sequence with frame numbers, as awning_0001.obj");
        }
        if (builder_) {
            add("normals-made", base::Severity::note, "no normals in the files",
                "they are made from the posed triangles, weighted by area and angle");
        }
    }

    SequenceParts parts_;
    mutable FrameCache cache_;
    std::optional<mesh::NormalBuilder> builder_;
    Clip clip_;
    MeshEntry entry_;
};

} // namespace

std::shared_ptr<const FrameSource> playSequence(SequenceParts parts, std::size_t cacheBytes) {
    return std::make_shared<MeshSequence>(std::move(parts), cacheBytes);
}

} // namespace ripple::source
