#include "bake/bake.h"

#include "bake/columns.h"
#include "base/parallel.h"
#include "base/units.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <numeric>

namespace ripple::bake {

namespace {

constexpr std::size_t kGrain = 16384; // values a task encodes at a time

/// The stored values of frame f: positions, or offsets from rest.
void storedValues(const Frames& frames, std::size_t f, std::span<const glm::vec3> rest, Content content,
                  std::size_t begin, std::span<glm::vec3> out) {
    const auto positions = frames.positionsOf(f).subspan(begin, out.size());
    if (content == Content::absolute) {
        std::copy(positions.begin(), positions.end(), out.begin());
        return;
    }
    for (std::size_t v = 0; v < out.size(); ++v) {
        out[v] = positions[v] - rest[begin + v];
    }
}

/// What the frames cover, as positions and as stored values.
struct Extent {
    mesh::Bounds positions;
    Range stored;
};

/// One pass over all frames. Each frame's boxes are kept apart and joined in the end, so that threads do not
/// matter.
Extent measureExtent(const Frames& frames, std::span<const glm::vec3> rest, Content content) {
    std::vector<mesh::Bounds> positions(frames.frames);
    std::vector<mesh::Bounds> offsets(frames.frames);
    base::parallelFor(frames.frames, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t f = begin; f < end; ++f) {
            mesh::Bounds at;
            mesh::Bounds from;
            const auto own = frames.positionsOf(f);
            for (std::size_t v = 0; v < own.size(); ++v) {
                at.add(own[v]);
                from.add(own[v] - rest[v]);
            }
            positions[f] = at;
            offsets[f] = from;
        }
    });
    Extent extent;
    mesh::Bounds offset;
    for (std::size_t f = 0; f < frames.frames; ++f) {
        extent.positions.add(positions[f]);
        offset.add(offsets[f]);
    }
    const mesh::Bounds& stored = content == Content::absolute ? extent.positions : offset;
    extent.stored = {stored.min, stored.max};
    return extent;
}

void requireStorable(const PositionStore& store, const Range& range) {
    const glm::vec3 largest = glm::max(glm::abs(range.min), glm::abs(range.max));
    const float most = std::max({largest.x, largest.y, largest.z});
    if (most > store.largest) {
        base::fail(std::string("position store ") + store.name,
                   "values reach " + base::lengthText(static_cast<double>(most)) + ", it holds up to " +
                       base::lengthText(static_cast<double>(store.largest)),
                   "check the source's unit, store offsets, or choose another store");
    }
}

Texels emptyTexels(const Frames& frames, image::Pixel pixel) {
    Texels texels;
    texels.vertices = frames.vertices;
    texels.frames = frames.frames;
    texels.bytesPerTexel = 3 * image::bytesPer(pixel);
    texels.data.resize(frames.vertices * frames.frames * texels.bytesPerTexel);
    return texels;
}

Texels encodePositions(const Frames& frames, std::span<const glm::vec3> rest, const TextureSet& set) {
    Texels texels = emptyTexels(frames, set.positionStore.pixel);
    base::parallelFor(frames.positions.size(), kGrain, [&](std::size_t begin, std::size_t end) {
        std::vector<glm::vec3> values;
        while (begin < end) { // a part of the flat range may span frames; rest starts anew in each
            const std::size_t f = begin / frames.vertices;
            const std::size_t v = begin % frames.vertices;
            values.resize(std::min({end - begin, frames.vertices - v, kGrain}));
            storedValues(frames, f, rest, set.content, v, values);
            set.positionStore.encode(values, set.range, texels.data.data() + begin * texels.bytesPerTexel);
            begin += values.size();
        }
    });
    return texels;
}

Texels encodeNormals(const Frames& frames, const NormalStore& store) {
    Texels texels = emptyTexels(frames, store.pixel);
    base::parallelFor(frames.normals.size(), kGrain, [&](std::size_t begin, std::size_t end) {
        store.encode({frames.normals.data() + begin, end - begin},
                     texels.data.data() + begin * texels.bytesPerTexel);
    });
    return texels;
}

image::Image layOut(const Texels& texels, const Columns& columns, const Layout& layout, image::Pixel pixel) {
    image::Image picture(layout.width, layout.height(), 3, pixel);
    const std::size_t size = texels.bytesPerTexel;
    base::parallelFor(layout.frames, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t f = begin; f < end; ++f) {
            std::byte* to = picture.texel(0, f * layout.rowsPerFrame); // rows of a frame follow each other
            if (columns.count() == texels.vertices) {
                std::memcpy(to, texels.at(f, 0), columns.count() * size); // nothing shared: in vertex order
            } else {
                for (std::size_t c = 0; c < columns.count(); ++c) {
                    std::memcpy(to + c * size, texels.at(f, columns.first[c]), size);
                }
            }
            // What is left of the last row is black, so that the file's bytes are always the same.
            std::memset(to + columns.count() * size, 0,
                        (layout.width * layout.rowsPerFrame - columns.count()) * size);
        }
    });
    return picture;
}

} // namespace

Baked encodeFrames(const source::FrameSource& source, const SamplePlan& plan, const Frames& frames,
                   const Recipe& recipe, const base::Progress& progress) {
    const std::span<const glm::vec3> rest = source.mesh().positions;
    Baked baked;
    baked.findings = plan.findings;
    TextureSet& set = baked.textures;
    set.content = recipe.content;
    set.positionStore = positionStore(recipe.positionStore);
    set.normalStore = normalStore(recipe.normalStore);
    set.clips = clipsOf(plan);
    const Extent extent = measureExtent(frames, rest, recipe.content);
    set.range = extent.stored;
    baked.bounds = extent.positions;
    requireStorable(set.positionStore, set.range);
    progress.report(0.2);

    const Texels positions = encodePositions(frames, rest, set);
    progress.report(0.4);
    const bool stored = set.normalStore.stored();
    const Texels normals = stored ? encodeNormals(frames, set.normalStore) : Texels{};
    progress.report(0.5);
    const Texels* textures[] = {&positions, &normals};
    Columns columns = shareColumns({textures, stored ? 2u : 1u});
    progress.report(0.8);
    set.layout = makeLayout(columns.count(), frames.frames, recipe.maxWidth);
    set.positions = layOut(positions, columns, set.layout, set.positionStore.pixel);
    if (stored) {
        set.normals = layOut(normals, columns, set.layout, set.normalStore.pixel);
    }
    baked.columnOfVertex = std::move(columns.ofVertex);
    progress.report(1.0);
    return baked;
}

Baked bake(const source::FrameSource& source, const Recipe& recipe, const base::Progress& progress) {
    const SamplePlan plan = planSampling(source, recipe);
    const Frames frames = sampleFrames(source, plan, progress);
    return encodeFrames(source, plan, frames, recipe, progress);
}

} // namespace ripple::bake
