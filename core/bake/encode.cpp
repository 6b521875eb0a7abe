#include "bake/encode.h"

#include "base/parallel.h"
#include "base/progress.h"
#include "base/units.h"

#include <algorithm>
#include <atomic>
#include <cstring>

#include <glm/common.hpp>

namespace ripple::bake {

void Extent::add(std::span<const glm::vec3> own, std::span<const glm::vec3> rest, std::span<glm::vec3> ways) {
    for (std::size_t i = 0; i < own.size(); ++i) {
        ways[i] = own[i] - rest[i];
    }
    positions.add(own);
    offsets.add(ways);
}

std::vector<Extent> joinExtents(std::span<const BakedClip> clips, std::span<const Extent> ofFrame) {
    std::vector<Extent> extents(clips.size());
    for (std::size_t c = 0; c < clips.size(); ++c) {
        for (const Extent& own : ofFrame.subspan(clips[c].firstFrame, clips[c].frames)) {
            extents[c].positions.add(own.positions);
            extents[c].offsets.add(own.offsets);
        }
    }
    return extents;
}

std::vector<Extent> measureExtents(std::span<const BakedClip> clips, const Poses& poses,
                                   std::span<const glm::vec3> rest, const base::Progress& progress) {
    // Each frame's boxes are kept apart and joined in the end, so that threads do not matter.
    std::vector<Extent> ofFrame(poses.frames());
    std::atomic<std::size_t> done{0};
    base::parallelFor(poses.frames(), 1, [&](std::size_t begin, std::size_t end) {
        Poses::Scratch scratch;
        for (std::size_t f = begin; f < end; ++f) {
            const auto own = poses.at(f, Poses::Want::positions, scratch).positions;
            std::array<glm::vec3, kChunk> ways;
            for (std::size_t v = 0; v < own.size(); v += kChunk) {
                const std::size_t count = std::min(kChunk, own.size() - v);
                ofFrame[f].add(own.subspan(v, count), rest.subspan(v, count), std::span(ways).first(count));
            }
            progress.report(static_cast<double>(++done) / static_cast<double>(poses.frames()));
        }
    });
    return joinExtents(clips, ofFrame);
}

std::vector<Range> rangesOf(std::span<const Extent> extents, Content content, bool perClip) {
    std::vector<Range> ranges;
    mesh::Bounds all;
    for (const Extent& extent : extents) {
        const mesh::Bounds& own = content == Content::absolute ? extent.positions : extent.offsets;
        ranges.push_back({own.min, own.max});
        all.add(own);
    }
    return perClip && extents.size() > 1 ? ranges : std::vector<Range>{{all.min, all.max}};
}

mesh::Bounds boundsOf(std::span<const Extent> extents) {
    mesh::Bounds bounds;
    for (const Extent& extent : extents) {
        bounds.add(extent.positions);
    }
    return bounds;
}

void requireStorable(const PositionStore& store, std::span<const Range> ranges) {
    float most = 0.0f;
    for (const Range& range : ranges) {
        const glm::vec3 largest = glm::max(glm::abs(range.min), glm::abs(range.max));
        most = std::max({most, largest.x, largest.y, largest.z});
    }
    if (most > store.largest) {
        base::fail(std::string("position store ") + store.name,
                   "values reach " + base::lengthText(static_cast<double>(most)) + ", it holds up to " +
                       base::lengthText(static_cast<double>(store.largest)),
                   "check the source's unit, store offsets, or choose another store");
    }
}

Texels roomFor(std::size_t rows, std::size_t vertices, std::size_t bytesPerTexel, const Recipe& recipe) {
    Texels texels;
    texels.vertices = vertices;
    texels.frames = rows;
    texels.bytesPerTexel = bytesPerTexel;
    // A layout rounds up by less than a texel for each of a frame's rows. Room that is not written to costs
    // no memory; moving all of it later would cost as much again.
    const std::size_t width = std::clamp<std::size_t>(limitsOf(recipe).maxWidth, 1, kLargestTexture);
    texels.data.reserve(rows * (vertices + vertices / width + 1) * bytesPerTexel);
    texels.data.resize(rows * vertices * bytesPerTexel);
    return texels;
}

std::array<std::byte*, kMostPlanes> planesAt(std::span<Texels> texels, std::size_t row, std::size_t vertex) {
    std::array<std::byte*, kMostPlanes> planes{};
    for (std::size_t p = 0; p < texels.size(); ++p) {
        planes[p] = texels[p].data.data() + (row * texels[p].vertices + vertex) * texels[p].bytesPerTexel;
    }
    return planes;
}

image::Image layOut(Texels&& texels, const Columns& columns, const Layout& layout, image::Pixel pixel) {
    image::Image picture;
    picture.width = layout.width;
    picture.height = layout.height();
    picture.pixel = pixel;
    picture.channels = texels.bytesPerTexel / image::bytesPer(pixel);
    picture.data = std::move(texels.data);
    const std::size_t size = texels.bytesPerTexel;
    const std::size_t from = texels.vertices * size;
    const std::size_t to = layout.width * layout.rowsPerBlock * size;
    const std::size_t used = columns.count() * size;
    const bool shared = columns.count() != texels.vertices;
    picture.data.resize(std::max(layout.width * layout.height() * size, layout.blocks * from));
    std::vector<std::byte> row(used);
    const auto move = [&](std::size_t f) {
        if (shared) {
            const std::byte* frame = picture.data.data() + f * from;
            for (std::size_t c = 0; c < columns.count(); ++c) {
                std::memcpy(row.data() + c * size, frame + columns.first[c] * size, size);
            }
            std::memcpy(picture.data.data() + f * to, row.data(), used);
        } else {
            std::memmove(picture.data.data() + f * to, picture.data.data() + f * from, used);
        }
        std::memset(picture.data.data() + f * to + used, 0, to - used);
    };
    // Frames that grow are moved from the last, others from the first: none is written over before its turn.
    for (std::size_t i = 0; i < layout.blocks && (shared || from != to); ++i) {
        move(to > from ? layout.blocks - 1 - i : i);
    }
    picture.data.resize(layout.width * layout.height() * size);
    std::memset(picture.data.data() + layout.blocks * to, 0, picture.data.size() - layout.blocks * to);
    return picture;
}

} // namespace ripple::bake
