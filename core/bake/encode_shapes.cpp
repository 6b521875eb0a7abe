#include "bake/encode.h"
#include "bake/kind.h"
#include "bake/shared_motion.h"

#include <algorithm>
#include <cstring>

namespace ripple::bake {

namespace {

Range rangeOf(std::span<const glm::vec3> values) {
    mesh::Bounds bounds;
    bounds.add(values);
    return {bounds.min, bounds.max};
}

Texels encodeRows(std::span<const glm::vec3> values, std::size_t rows, const PositionStore& store,
                  const Range& range, const Recipe& recipe) {
    Texels texels = roomFor(rows, values.size() / rows, 3 * image::bytesPer(store.pixel), recipe);
    std::byte* to = texels.data.data();
    store.encode(values, range, &to);
    return texels;
}

image::Image weightImage(const SharedMotion& shared, std::size_t shapes) {
    image::Image picture((shapes + 3) / 4, shared.frames, 4, image::Pixel::float32);
    std::fill(picture.data.begin(), picture.data.end(), std::byte{0});
    for (std::size_t f = 0; f < shared.frames; ++f) {
        std::memcpy(picture.texel(0, f), shared.weights.data() + f * shared.shapes, shapes * sizeof(float));
    }
    return picture;
}

} // namespace

Baked encodeShared(const SamplePlan& plan, const SharedMotion& shared, const Recipe& recipe) {
    Baked baked;
    baked.findings = plan.findings;
    TextureSet& set = baked.textures;
    set.kind = &kShapes;
    set.content = Content::offset;
    set.positionStore = positionStore(recipe.positionStore);
    set.normalStore = normalStore(recipe.normalStore);
    set.clips = clipsOf(plan);
    const std::size_t shapes = std::min(recipe.shapes, shared.shapes);
    const std::span<const glm::vec3> offsets(shared.offsets.data(), shapes * shared.vertices);
    set.ranges = {rangeOf(offsets)};
    requireStorable(set.positionStore, set.ranges);
    std::vector<Texels> texels;
    texels.push_back(encodeRows(offsets, shapes, set.positionStore, set.ranges[0], recipe));
    if (set.hasNormals()) {
        const std::span<const glm::vec3> normals(shared.normals.data(), shapes * shared.vertices);
        set.normalRange = rangeOf(normals);
        texels.push_back(encodeRows(normals, shapes, set.positionStore, set.normalRange, recipe));
    }
    std::vector<const Texels*> all;
    for (const Texels& own : texels) {
        all.push_back(&own);
    }
    Columns columns = shareColumns(all);
    set.layout = makeLayout(columns.count(), shapes, limitsOf(recipe));
    set.textures = kShapes.textures(set);
    for (const TextureFormat& texture : set.textures) {
        if (*texture.quantity == kWeight) {
            set.images.push_back(weightImage(shared, shapes));
            continue;
        }
        Texels& own = texels[*texture.quantity == kPosition ? 0 : 1];
        set.images.push_back(layOut(std::move(own), columns, set.layout, texture.pixel));
    }
    baked.columnOfVertex = std::move(columns.ofVertex);
    return baked;
}

Baked encodeShapes(const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
                   const Recipe& recipe, const base::Progress& progress) {
    const bool normals = normalStore(recipe.normalStore).stored();
    const SharedMotion shared = shareMotion(source.mesh(), poses, recipe.shapes, normals, progress);
    Baked baked = encodeShared(plan, shared, recipe);
    baked.bounds = boundsOf(measureExtents(baked.textures.clips, poses, source.mesh().positions, progress));
    return baked;
}

} // namespace ripple::bake
