#include "bake/alpha.h"
#include "bake/encode.h"

#include "base/parallel.h"
#include "mesh/tangents.h"

#include <algorithm>
#include <atomic>
#include <optional>

namespace ripple::bake {

namespace {

constexpr std::size_t kChunk = 4096; // values that are encoded at a time: they stay in the cache

/// Encodes the frames of one bake into texels in vertex order.
class VertexEncoder {
public:
    VertexEncoder(const TextureSet& set, const mesh::Mesh& mesh, const Poses& poses, const Recipe& recipe)
        : set_(set),
          rest_(mesh.positions),
          poses_(poses) {
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
            carrier_.emplace(mesh);
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

    Columns columns() const {
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
        return shareColumns(all);
    }

    std::vector<Texture> layOutAll(const Columns& columns) {
        std::vector<Texture> textures = expectedTextures(set_);
        for (Texture& texture : textures) {
            Texels& texels = texture.role == Role::position      ? planes_[0]
                             : texture.role == Role::positionLow ? planes_[1]
                             : texture.role == Role::tangent     ? tangents_[0]
                                                                 : normals_[0];
            texture.image = layOut(std::move(texels), columns, set_.layout, texture.image.pixel);
        }
        return textures;
    }

private:
    void encodeChunk(std::size_t f, std::size_t v, const Poses::Pose& pose, Extent& extent) {
        const std::size_t count = std::min(kChunk, rest_.size() - v);
        std::array<glm::vec3, kChunk> values;
        const bool offset = set_.content == Content::offset;
        for (std::size_t i = 0; i < count; ++i) {
            const glm::vec3 position = pose.positions[v + i];
            const glm::vec3 way = position - rest_[v + i];
            extent.positions.add(position);
            extent.offsets.add(way);
            values[i] = offset ? way : position;
        }
        const std::span<const glm::vec3> own(values.data(), count);
        const std::span<const glm::vec3> normals =
            set_.hasNormals() ? pose.normals.subspan(v, count) : std::span<const glm::vec3>();
        const auto planes = planesAt(planes_, f, v);
        if (set_.normalsInAlpha) {
            encodeJoined(own, normals, f, planes);
            return;
        }
        set_.positionStore.encode(own, set_.rangeOf(f), planes.data());
        if (set_.hasNormals()) {
            set_.normalStore.encode(normals, planesAt(normals_, f, v)[0]);
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
    std::vector<Texels> planes_;
    std::vector<Texels> normals_;
    std::vector<Texels> tangents_;
    std::optional<mesh::TangentBuilder> carrier_;
};

} // namespace

Baked encodeVertices(const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
                     const Recipe& recipe, const base::Progress& progress) {
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
    VertexEncoder encoder(set, source.mesh(), poses, recipe);
    const auto extents = encoder.run(progress);
    set.ranges = rangesOf(extents, recipe.content, recipe.rangePerClip);
    baked.bounds = boundsOf(extents);
    requireStorable(set.positionStore, set.ranges);
    Columns columns = encoder.columns();
    progress.checkpoint();
    set.layout = makeLayout(columns.count(), poses.frames(), limitsOf(recipe));
    set.textures = encoder.layOutAll(columns);
    baked.columnOfVertex = std::move(columns.ofVertex);
    progress.report(1.0);
    return baked;
}

} // namespace ripple::bake
