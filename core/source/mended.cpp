#include "source/mended.h"

#include "mesh/faults.h"
#include "mesh/normals.h"
#include "mesh/stray.h"
#include "mesh/uv_sets.h"
#include "source/layered.h"
#include "source/rig.h"

#include <algorithm>

#include <glm/geometric.hpp>
#include <glm/mat4x4.hpp>

namespace ripple::source {

namespace {

/// Each vertex's neighbours along edges, in one list.
struct Neighbours {
    std::vector<std::uint32_t> start; ///< vertices + 1
    std::vector<std::uint32_t> list;

    explicit Neighbours(const mesh::Mesh& mesh) : start(mesh.vertexCount() + 1, 0) {
        for (const std::uint32_t index : mesh.indices) {
            start[index + 1] += 2;
        }
        for (std::size_t v = 0; v + 1 < start.size(); ++v) {
            start[v + 1] += start[v];
        }
        list.resize(mesh.indices.size() * 2);
        std::vector<std::uint32_t> next(start.begin(), start.end() - 1);
        for (std::size_t i = 0; i < mesh.indices.size(); ++i) {
            const std::size_t t = i - i % 3;
            list[next[mesh.indices[i]]++] = mesh.indices[t + (i + 1) % 3];
            list[next[mesh.indices[i]]++] = mesh.indices[t + (i + 2) % 3];
        }
    }
};

class Mended : public Layered {
public:
    Mended(std::shared_ptr<const FrameSource> below, const Mending& mending)
        : Layered(std::move(below)),
          mesh_(below_->mesh()) {
        if (mending.dropDegenerate || mending.dropUnused || mending.mergeDuplicates) {
            rebuild(mending);
        }
        if (mending.dropRepeatedUvs || mending.dropUnreadUvs) {
            dropSpareUvs(mending);
        }
        makesNormals_ = mending.makeNormals;
        if (mending.makeNormals || mending.holdStray) {
            const auto groups =
                mesh_.smoothGroup.empty() ? mesh::smoothGroupsOf(mesh_, true) : mesh_.smoothGroup;
            normals_.emplace(mesh_.indices, mesh_.vertexCount(), groups);
        }
        if (mending.makeUvs && mesh_.uvSets.empty()) {
            mesh_.uvSets.push_back(mesh::projectedUvs(mesh_));
        }
        if (mending.holdStray) {
            neighbours_.emplace(mesh_);
            stray_.emplace(mesh::StrayTest::ofPose(mesh_.positions));
            rest_ = mesh_.positions;
            // The rest pose may have strays itself; they go to the middle of what they are joined to.
            const std::vector<std::uint32_t> strays = hold(mesh_.positions, true);
            rest_ = mesh_.positions;
            turnNormalsAt(strays, mesh_.positions, mesh_.normals);
        }
        if (makesNormals_) {
            normals_->build(mesh_.positions, mesh_.normals);
        }
    }

    const mesh::Mesh& mesh() const override { return mesh_; }

    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        const bool fromFile = !normals.empty() && !makesNormals_;
        if (kept_.empty()) {
            below_->sample(clip, seconds, positions, fromFile ? normals : std::span<glm::vec3>());
        } else {
            std::vector<glm::vec3> allPositions(below_->mesh().vertexCount());
            std::vector<glm::vec3> allNormals(fromFile ? allPositions.size() : 0);
            below_->sample(clip, seconds, allPositions, allNormals);
            for (std::size_t v = 0; v < kept_.size(); ++v) {
                positions[v] = allPositions[kept_[v]];
            }
            for (std::size_t v = 0; fromFile && v < normals.size(); ++v) {
                normals[v] = allNormals[kept_[v]];
            }
        }
        const std::vector<std::uint32_t> strays =
            stray_ ? hold(positions, false) : std::vector<std::uint32_t>();
        if (fromFile) {
            turnNormalsAt(strays, positions, normals);
        } else if (!normals.empty()) {
            normals_->build(positions, normals);
        }
    }

    std::shared_ptr<const Rig> rig() const override {
        if (stray_) {
            base::fail(format(), "vertices that strayed follow their neighbours, which joints do not hold",
                       "bake the vertices, or let the strays be");
        }
        Rig own = *below_->rig();
        if (!kept_.empty()) {
            const Rig all = own;
            own.weights.joints.clear();
            own.weights.weights.clear();
            const auto width = static_cast<std::ptrdiff_t>(all.weights.influences);
            for (std::size_t v = 0; v < kept_.size(); ++v) {
                own.positions[v] = all.positions[kept_[v]];
                own.normals[v] = all.normals[kept_[v]];
                if (!own.tangents.empty()) {
                    own.tangents[v] = all.tangents[kept_[v]];
                }
                const std::ptrdiff_t from = width * kept_[v];
                own.weights.joints.insert(own.weights.joints.end(), all.weights.joints.begin() + from,
                                          all.weights.joints.begin() + from + width);
                own.weights.weights.insert(own.weights.weights.end(), all.weights.weights.begin() + from,
                                           all.weights.weights.begin() + from + width);
            }
            own.positions.resize(kept_.size());
            own.normals.resize(kept_.size());
            own.tangents.resize(own.tangents.empty() ? 0 : kept_.size());
        }
        if (makesNormals_) {
            normals_->build(own.positions, own.normals);
        }
        return std::make_shared<const Rig>(std::move(own));
    }
    void sampleRig(std::size_t clip, double seconds, std::span<glm::dmat4> transforms) const override {
        below_->sampleRig(clip, seconds, transforms);
    }

    std::vector<float> jointWeights(std::size_t joint) const override {
        const std::vector<float> all = below_->jointWeights(joint);
        if (kept_.empty()) {
            return all;
        }
        std::vector<float> own;
        own.reserve(kept_.size());
        for (const std::uint32_t v : kept_) {
            own.push_back(all[v]);
        }
        return own;
    }

private:
    void rebuild(const Mending& mending) {
        const mesh::Mesh& from = below_->mesh();
        std::vector<char> dropped(from.triangleCount(), 0);
        if (mending.dropDegenerate) {
            for (const std::uint32_t t : mesh::degenerateTriangles(from)) {
                dropped[t] = 1;
            }
        }
        std::vector<std::uint32_t> replacement(from.vertexCount());
        for (std::size_t v = 0; v < replacement.size(); ++v) {
            replacement[v] = static_cast<std::uint32_t>(v);
        }
        if (mending.mergeDuplicates) {
            replacement = mesh::firstAlike(from);
            keepThoseThatPart(replacement);
        }
        std::vector<char> unused(from.vertexCount(), 0);
        if (mending.dropUnused) {
            std::fill(unused.begin(), unused.end(), 1);
            for (std::size_t i = 0; i < from.indices.size(); ++i) {
                unused[replacement[from.indices[i]]] &= dropped[i / 3] != 0;
            }
        }
        mesh_ = mesh::without(from, dropped, replacement, unused, kept_);
        if (mesh_.indices.empty()) {
            base::fail(below_->meshes().empty() ? "mesh" : below_->meshes()[0].name,
                       "nothing is left: all its triangles have no area",
                       "check the scale it was exported with");
        }
    }

    /// Vertices that agree at rest but move apart are not merged.
    void keepThoseThatPart(std::vector<std::uint32_t>& replacement) const {
        constexpr int kInstants = 8;
        std::vector<glm::vec3> positions(replacement.size());
        for (std::size_t c = 0; c < below_->clips().size(); ++c) {
            const Clip& clip = below_->clips()[c];
            for (int i = 0; i < kInstants; ++i) {
                below_->sample(c, clip.start + clip.duration * i / (kInstants - 1), positions, {});
                for (std::size_t v = 0; v < replacement.size(); ++v) {
                    if (positions[v] != positions[replacement[v]]) {
                        replacement[v] = static_cast<std::uint32_t>(v);
                    }
                }
            }
        }
    }

    void dropSpareUvs(const Mending& mending) {
        std::vector<std::size_t> into = mesh::firstSameUvSet(mesh_);
        for (std::size_t s = 0; s < into.size(); ++s) {
            into[s] = mending.dropRepeatedUvs ? into[s] : s;
        }
        // The first set stays: an engine's own materials read it.
        for (std::size_t s = 1; s < into.size() && mending.dropUnreadUvs; ++s) {
            bool read = false;
            for (std::size_t other = 0; other < into.size(); ++other) {
                read = read || (into[other] == into[s] && mesh::isUvSetRead(mesh_, other));
            }
            into[s] = into[s] == s && !read ? 0 : into[s];
        }
        mesh::dropUvSets(mesh_, into);
    }

    /// Strays' own triangles are not what their neighbours saw when normals were made: there they are made
    /// from the triangles as they lie now.
    void turnNormalsAt(std::span<const std::uint32_t> strays, std::span<const glm::vec3> positions,
                       std::span<glm::vec3> normals) const {
        if (strays.empty() || normals.empty()) {
            return;
        }
        std::vector<glm::vec3> made(normals.size());
        normals_->build(positions, made);
        for (const std::uint32_t v : strays) {
            normals[v] = made[v];
            for (std::uint32_t i = neighbours_->start[v]; i < neighbours_->start[v + 1]; ++i) {
                normals[neighbours_->list[i]] = made[neighbours_->list[i]];
            }
        }
    }

    /// Strays move as the mean of their good neighbours does; at rest they go to their neighbours' middle.
    /// Returns them.
    std::vector<std::uint32_t> hold(std::span<glm::vec3> positions, bool atRest) const {
        std::vector<std::uint32_t> strays = stray_->find(positions);
        std::vector<char> bad(strays.empty() ? 0 : positions.size(), 0);
        for (const std::uint32_t v : strays) {
            bad[v] = 1;
        }
        for (const std::uint32_t v : strays) {
            glm::vec3 sum(0.0f);
            int count = 0;
            for (std::uint32_t i = neighbours_->start[v]; i < neighbours_->start[v + 1]; ++i) {
                const std::uint32_t other = neighbours_->list[i];
                if (!bad[other]) {
                    sum += atRest ? positions[other] : positions[other] - rest_[other];
                    ++count;
                }
            }
            const glm::vec3 mean = count ? sum / static_cast<float>(count) : glm::vec3(0.0f);
            positions[v] = atRest ? mean : rest_[v] + mean;
        }
        return strays;
    }

    mesh::Mesh mesh_;
    std::vector<std::uint32_t> kept_; ///< old numbers of our vertices; empty: all
    bool makesNormals_ = false;
    std::optional<mesh::NormalBuilder> normals_; ///< where normals are made here
    std::optional<Neighbours> neighbours_;
    std::optional<mesh::StrayTest> stray_;
    std::vector<glm::vec3> rest_;
};

} // namespace

std::shared_ptr<const FrameSource> mend(std::shared_ptr<const FrameSource> source, const Mending& mending) {
    Mending here = mending;
    here.keepMirrored = false; // the reader's
    here.maxInfluences = 0;
    return here == Mending{} ? source : std::make_shared<Mended>(std::move(source), here);
}

} // namespace ripple::source
