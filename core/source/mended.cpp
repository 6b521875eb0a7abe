#include "source/mended.h"

#include "mesh/faults.h"
#include "mesh/stray.h"
#include "source/layered.h"

#include <algorithm>

#include <glm/geometric.hpp>

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
        if (mending.makeUvs && mesh_.uvSets.empty()) {
            mesh_.uvSets.push_back(mesh::projectedUvs(mesh_));
        }
        if (mending.holdStray) {
            neighbours_.emplace(mesh_);
            stray_.emplace(mesh::StrayTest::ofPose(mesh_.positions));
            rest_ = mesh_.positions;
            // The rest pose may have strays itself; they go to the middle of what they are joined to.
            hold(mesh_.positions, true);
            rest_ = mesh_.positions;
        }
    }

    const mesh::Mesh& mesh() const override { return mesh_; }

    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        if (kept_.empty()) {
            below_->sample(clip, seconds, positions, normals);
        } else {
            std::vector<glm::vec3> allPositions(below_->mesh().vertexCount());
            std::vector<glm::vec3> allNormals(normals.empty() ? 0 : allPositions.size());
            below_->sample(clip, seconds, allPositions, allNormals);
            for (std::size_t v = 0; v < kept_.size(); ++v) {
                positions[v] = allPositions[kept_[v]];
            }
            for (std::size_t v = 0; v < normals.size(); ++v) {
                normals[v] = allNormals[kept_[v]];
            }
        }
        if (stray_) {
            hold(positions, false);
        }
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

    /// Strays move as the mean of their good neighbours does; at rest they go to their neighbours' middle.
    void hold(std::span<glm::vec3> positions, bool atRest) const {
        const std::vector<std::uint32_t> strays = stray_->find(positions);
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
    }

    mesh::Mesh mesh_;
    std::vector<std::uint32_t> kept_; ///< old numbers of our vertices; empty: all
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
