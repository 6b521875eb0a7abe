#include "bake/bake.h"

#include "bake/kind.h"
#include "bake/poses.h"
#include "bake/room.h"
#include "mesh/uv_sets.h"

namespace ripple::bake {

namespace {

Baked encode(const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
             const Recipe& recipe, const base::Progress& progress, const Baked* earlier) {
    requireFitting(recipe);
    return recipe.kind->encode(source, plan, poses, recipe, progress, earlier);
}

} // namespace

void requireFitting(const Recipe& recipe) {
    if (recipe.lookupUvSet && *recipe.lookupUvSet > mesh::kMostLookupUvSet) {
        base::fail("lookup UV set", "is " + std::to_string(*recipe.lookupUvSet) + ", counted from 0",
                   "choose one from 0 to " + std::to_string(mesh::kMostLookupUvSet));
    }
    positionStore(recipe.positionStore); // throws for a name that there is not
    normalStore(recipe.normalStore);
    recipe.kind->requireFitting(recipe);
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
