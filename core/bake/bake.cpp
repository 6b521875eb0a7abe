#include "bake/bake.h"

#include "bake/encode.h"
#include "bake/room.h"
#include "mesh/uv_sets.h"

namespace ripple::bake {

namespace {

Baked encode(const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
             const Recipe& recipe, const base::Progress& progress, const Baked* earlier) {
    requireFitting(recipe);
    switch (recipe.kind) {
    case Kind::vertices:
        break;
    case Kind::pieces:
        return encodePieces(source, plan, poses, recipe, progress);
    case Kind::shapes:
        return encodeShapes(source, plan, poses, recipe, progress);
    }
    return encodeVertices(source, plan, poses, recipe, progress, earlier);
}

} // namespace

void requireFitting(const Recipe& recipe) {
    const PositionStore& store = positionStore(recipe.positionStore);
    const NormalStore& normals = normalStore(recipe.normalStore);
    if (recipe.kind != Kind::vertices) {
        const std::string kind = std::string("a bake of ") + name(recipe.kind);
        if (recipe.normalsInAlpha) {
            base::fail("normals in alpha", kind + " stores none beside each vertex's position",
                       "bake the vertices, or leave normals in alpha away");
        }
        if (recipe.tangents) {
            base::fail("tangents",
                       kind + (recipe.kind == Kind::pieces ? " turns the mesh's own" : " does not hold them"),
                       "bake the vertices, or leave tangents away");
        }
    }
    if (recipe.lookupUvSet && *recipe.lookupUvSet > mesh::kMostLookupUvSet) {
        base::fail("lookup UV set", "is " + std::to_string(*recipe.lookupUvSet) + ", counted from 0",
                   "choose one from 0 to " + std::to_string(mesh::kMostLookupUvSet));
    }
    if (recipe.normalsInAlpha && normals.stored()) {
        if (!store.holdsNormals()) {
            base::fail("normals in alpha",
                       std::string("the alpha of ") + store.name + " holds 11 bits, they take 16",
                       "store positions as unorm16, unorm8x2 or float32, or normals in their own texture");
        }
        if (recipe.normalStore != kOct16Normals.name) {
            base::fail("normals in alpha", "they must be of 16 bits, " + recipe.normalStore + " is not",
                       "store normals as oct16, or in their own texture");
        }
    }
    if (recipe.tangents && !normals.stored()) {
        base::fail("tangents", "are stored as normals are, which are not stored",
                   "choose a store for normals, or bake without tangents");
    }
    if (recipe.kind == Kind::shapes) {
        if (recipe.content == Content::absolute) {
            base::fail("absolute positions", "are no sum of shared shapes", "store offsets");
        }
        if (recipe.shapes == 0) {
            base::fail("shapes", "are 0", "take at least one");
        }
        if (store.planes > 1) {
            base::fail("shared shapes", std::string("are not stored as ") + store.name,
                       "store them as half, unorm16 or float32");
        }
    }
}

Baked encodeFrames(const source::FrameSource& source, const SamplePlan& plan, const Frames& frames,
                   const Recipe& recipe, const base::Progress& progress, const Baked* earlier) {
    return encode(source, plan, Poses(frames), recipe, progress, earlier);
}

Baked bake(const source::FrameSource& source, const SamplePlan& plan, const Recipe& recipe,
           const base::Progress& progress) {
    requireFitting(recipe);
    requireRoom(source, plan, recipe);
    return encode(source, plan, Poses(source, plan), recipe, progress, nullptr);
}

Baked bake(const source::FrameSource& source, const Recipe& recipe, const base::Progress& progress) {
    return bake(source, planSampling(source, recipe, progress), recipe, progress);
}

} // namespace ripple::bake
