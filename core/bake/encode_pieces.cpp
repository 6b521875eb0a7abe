#include "bake/encode.h"
#include "bake/kind.h"
#include "bake/pieces.h"
#include "bake/quaternions.h"

#include "base/units.h"

#include <numeric>

namespace ripple::bake {

namespace {

/// What the pivots' places cover in each clip, as positions and as offsets.
std::vector<Extent> extentsOf(std::span<const BakedClip> clips, const Pieces& pieces) {
    std::vector<Extent> extents(clips.size());
    for (std::size_t c = 0; c < clips.size(); ++c) {
        for (std::size_t f = clips[c].firstFrame; f < clips[c].firstFrame + clips[c].frames; ++f) {
            for (std::size_t p = 0; p < pieces.count(); ++p) {
                const glm::vec3& place = pieces.places[f * pieces.count() + p];
                extents[c].positions.add(place);
                extents[c].offsets.add(place - pieces.pivots[p]);
            }
        }
    }
    return extents;
}

} // namespace

Baked encodePieces(const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
                   const Recipe& recipe, const base::Progress& progress) {
    const Pieces pieces = findPieces(source.mesh(), poses, progress);
    const std::size_t count = pieces.count();
    Baked baked;
    baked.findings = plan.findings;
    if (count == 1) {
        baked.findings.push_back(
            {"one-piece",
             base::Severity::look,
             {"pieces", "the whole mesh moves as one rigid piece",
              "animate the object's transform in the engine: that costs no texture at all"}});
    }
    TextureSet& set = baked.textures;
    set.kind = &kPieces;
    set.content = recipe.content;
    set.positionStore = positionStore(recipe.positionStore);
    set.normalStore = kNoNormals; // the pieces' turns carry them
    set.clips = clipsOf(plan);
    set.pivots = pieces.pivots;
    set.ranges = rangesOf(extentsOf(set.clips, pieces), recipe.content, recipe.rangePerClip);
    requireStorable(set.positionStore, set.ranges);
    set.layout = makeLayout(count, poses.frames(), limitsOf(recipe));

    const PositionStore& store = set.positionStore;
    std::vector<Texels> places(store.planes);
    std::vector<Texels> turns(store.planes);
    for (std::size_t p = 0; p < store.planes; ++p) {
        places[p] = roomFor(poses.frames(), count, 3 * image::bytesPer(store.pixel), recipe);
        turns[p] = roomFor(poses.frames(), count, 4 * image::bytesPer(store.pixel), recipe);
    }
    std::vector<glm::vec3> values(count);
    for (std::size_t f = 0; f < poses.frames(); ++f) {
        for (std::size_t p = 0; p < count; ++p) {
            const glm::vec3& place = pieces.places[f * count + p];
            values[p] = recipe.content == Content::offset ? place - pieces.pivots[p] : place;
        }
        store.encode(values, set.rangeOf(f), planesAt(places, f, 0).data());
        encodeQuaternions(store, {pieces.turns.data() + f * count, count}, planesAt(turns, f, 0).data());
    }
    Columns columns;
    columns.first.resize(count);
    std::iota(columns.first.begin(), columns.first.end(), 0u);
    set.textures = kPieces.textures(set);
    for (const TextureFormat& texture : set.textures) {
        Texels& texels = (*texture.quantity == kRotation ? turns : places)[texture.plane];
        set.images.push_back(layOut(std::move(texels), columns, set.layout, texture.pixel));
    }
    baked.columnOfVertex = pieces.ofVertex;
    baked.bounds = boundsOf(measureExtents(set.clips, poses, source.mesh().positions, progress));
    return baked;
}

} // namespace ripple::bake
