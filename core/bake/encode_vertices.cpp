#include "bake/alpha.h"
#include "bake/encode.h"
#include "bake/kind.h"

#include "base/parallel.h"
#include "base/progress.h"
#include "mesh/tangents.h"

#include <algorithm>
#include <atomic>
#include <cstring>
#include <optional>
#include <string>

namespace ripple::bake {

namespace {

/// Encodes the frames of one bake into texels in vertex order.
class VertexEncoder {
public:
    VertexEncoder(const TextureSet& set, const mesh::Mesh& mesh, const Poses& poses, const Recipe& recipe,
                  const Baked* earlier)
        : set_(set),
          rest_(mesh.positions),
          poses_(poses),
          earlier_(earlier) {
        const bool joined = set.normalsInAlpha || (earlier && earlier->textures.normalsInAlpha);
        const bool comparable = earlier && !joined && earlier->textures.kind->holdsVertices &&
                                earlier->columnOfVertex.size() == poses.vertices() &&
                                earlier->textures.layout.blocks == poses.frames();
        samePositions_ = comparable && storesPositionsLike(earlier->textures);
        sameNormals_ = comparable && std::string(set.normalStore.name) == earlier->textures.normalStore.name;
        sameTangents_ = sameNormals_ && earlier->textures.tangents;
        const std::size_t channels = set.normalsInAlpha ? 4 : 3;
        const std::size_t positionSize = channels * image::bytesPer(set.positionStore.pixel);
        for (std::size_t p = 0; p < set.positionStore.planes; ++p) {
            planes_.push_back(roomFor(poses.frames(), poses.vertices(), positionSize, recipe));
        }
        if (set.hasNormals() && !set.normalsInAlpha) {
            const std::size_t size = 3 * image::bytesPer(set.normalStore.pixel);
            normals_.push_back(roomFor(poses.frames(), poses.vertices(), size, recipe));
        }
        if (set.tangents) {
            const std::size_t size = 3 * image::bytesPer(set.normalStore.pixel);
            tangents_.push_back(roomFor(poses.frames(), poses.vertices(), size, recipe));
            if (!sameTangents_) {
                carrier_.emplace(mesh);
            }
        }
    }

    /// Encodes all frames, and measures them on the way.
    std::vector<Extent> run(const base::Progress& progress) {
        std::vector<Extent> ofFrame(poses_.frames());
        std::atomic<std::size_t> done{0};
        base::parallelFor(poses_.frames(), 1, [&](std::size_t begin, std::size_t end) {
            Poses::Scratch scratch;
            std::vector<glm::vec3> tangents(carrier_ ? rest_.size() : 0);
            const auto want = set_.hasNormals() ? Poses::Want::both : Poses::Want::positions;
            for (std::size_t f = begin; f < end; ++f) {
                const Poses::Pose pose = poses_.at(f, want, scratch);
                reuseFromEarlier(f);
                if (carrier_) {
                    carrier_->build(pose.positions, pose.normals, tangents);
                    set_.normalStore.encode(tangents, planesAt(tangents_, f, 0)[0]);
                }
                for (std::size_t v = 0; v < rest_.size(); v += kChunk) {
                    encodeChunk(f, v, pose, ofFrame[f]);
                }
                progress.report(static_cast<double>(++done) / static_cast<double>(poses_.frames()));
            }
        });
        return joinExtents(set_.clips, ofFrame);
    }

    Columns columns(const base::Progress& progress) const {
        std::vector<const Texels*> all;
        for (const Texels& texels : planes_) {
            all.push_back(&texels);
        }
        for (const Texels& texels : normals_) {
            all.push_back(&texels);
        }
        for (const Texels& texels : tangents_) {
            all.push_back(&texels);
        }
        return shareColumns(all, progress);
    }

    std::vector<image::Image> layOutAll(const Columns& columns) {
        std::vector<image::Image> images;
        for (const TextureFormat& texture : set_.textures) {
            Texels& texels = *texture.quantity == kPosition  ? planes_[texture.plane]
                             : *texture.quantity == kTangent ? tangents_[0]
                                                             : normals_[0];
            images.push_back(layOut(std::move(texels), columns, set_.layout, texture.pixel));
        }
        return images;
    }

private:
    void encodeChunk(std::size_t f, std::size_t v, const Poses::Pose& pose, Extent& extent) {
        const std::size_t count = std::min(kChunk, rest_.size() - v);
        std::array<glm::vec3, kChunk> ways;
        const auto positions = pose.positions.subspan(v, count);
        extent.add(positions, rest_.subspan(v, count), std::span(ways).first(count));
        const std::span<const glm::vec3> own =
            set_.content == Content::offset ? std::span<const glm::vec3>(ways.data(), count) : positions;
        const std::span<const glm::vec3> normals =
            set_.hasNormals() ? pose.normals.subspan(v, count) : std::span<const glm::vec3>();
        const auto planes = planesAt(planes_, f, v);
        if (set_.normalsInAlpha) {
            encodeJoined(own, normals, f, planes);
            return;
        }
        if (!samePositions_) {
            set_.positionStore.encode(own, set_.rangeOf(f), planes.data());
        }
        if (set_.hasNormals() && !sameNormals_) {
            set_.normalStore.encode(normals, planesAt(normals_, f, v)[0]);
        }
    }

    bool storesPositionsLike(const TextureSet& other) const {
        return std::string(set_.positionStore.name) == other.positionStore.name &&
               set_.content == other.content &&
               (!set_.positionStore.usesRange || set_.ranges == other.ranges);
    }

    /// A frame of what the earlier bake stores in the same way.
    void reuseFromEarlier(std::size_t f) {
        for (std::size_t p = 0; samePositions_ && p < planes_.size(); ++p) {
            reuse(kPosition, p, f, planes_[p]);
        }
        if (sameNormals_ && !normals_.empty()) {
            reuse(kNormal, 0, f, normals_[0]);
        }
        if (sameTangents_ && !tangents_.empty()) {
            reuse(kTangent, 0, f, tangents_[0]);
        }
    }
    void reuse(const Quantity& quantity, std::size_t plane, std::size_t f, Texels& texels) const {
        const Layout& layout = earlier_->textures.layout;
        const std::byte* from = earlier_->textures.image(quantity, plane).texel(0, f * layout.rowsPerBlock);
        const std::size_t size = texels.bytesPerTexel;
        std::byte* to = texels.data.data() + f * texels.vertices * size;
        if (layout.columns == texels.vertices) {
            std::memcpy(to, from, texels.vertices * size);
            return;
        }
        for (std::size_t v = 0; v < texels.vertices; ++v, to += size) {
            std::memcpy(to, from + earlier_->columnOfVertex[v] * size, size);
        }
    }

    void encodeJoined(std::span<const glm::vec3> values, std::span<const glm::vec3> normals, std::size_t f,
                      const std::array<std::byte*, kMostPlanes>& joined) {
        const std::size_t size = values.size() * 3 * image::bytesPer(set_.positionStore.pixel);
        std::vector<std::byte> apart(size * set_.positionStore.planes);
        std::vector<std::byte> oct(values.size() * 3);
        std::array<std::byte*, kMostPlanes> planes{};
        for (std::size_t p = 0; p < set_.positionStore.planes; ++p) {
            planes[p] = apart.data() + p * size;
        }
        set_.positionStore.encode(values, set_.rangeOf(f), planes.data());
        set_.normalStore.encode(normals, oct.data());
        joinAlpha(set_.positionStore, values.size(), planes.data(), oct.data(), joined.data());
    }

    const TextureSet& set_;
    std::span<const glm::vec3> rest_;
    const Poses& poses_;
    const Baked* earlier_;
    bool samePositions_ = false;
    bool sameNormals_ = false;
    bool sameTangents_ = false;
    std::vector<Texels> planes_;
    std::vector<Texels> normals_;
    std::vector<Texels> tangents_;
    std::optional<mesh::TangentBuilder> carrier_;
};

} // namespace

Baked encodeVertices(const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
                     const Recipe& recipe, const base::Progress& progress, const Baked* earlier) {
    const std::span<const glm::vec3> rest = source.mesh().positions;
    Baked baked;
    baked.findings = plan.findings;
    TextureSet& set = baked.textures;
    set.content = recipe.content;
    set.positionStore = positionStore(recipe.positionStore);
    set.normalStore = normalStore(recipe.normalStore);
    set.normalsInAlpha = recipe.normalsInAlpha && set.hasNormals();
    set.tangents = recipe.tangents;
    if (set.tangents && source.mesh().tangents.empty()) {
        base::fail("tangents", "the mesh has none", "export it with tangents, or bake without them");
    }
    set.clips = clipsOf(plan);
    if (set.positionStore.usesRange) {
        const auto extents = measureExtents(set.clips, poses, rest, progress);
        set.ranges = rangesOf(extents, recipe.content, recipe.rangePerClip);
    }
    VertexEncoder encoder(set, source.mesh(), poses, recipe, earlier);
    const auto extents = encoder.run(progress);
    set.ranges = rangesOf(extents, recipe.content, recipe.rangePerClip);
    baked.bounds = boundsOf(extents);
    requireStorable(set.positionStore, set.ranges);
    Columns columns = encoder.columns(progress);
    set.layout = makeLayout(columns.count(), poses.frames(), limitsOf(recipe));
    set.textures = kVertices.textures(set);
    set.images = encoder.layOutAll(columns);
    baked.columnOfVertex = std::move(columns.ofVertex);
    progress.report(1.0);
    return baked;
}

} // namespace ripple::bake
