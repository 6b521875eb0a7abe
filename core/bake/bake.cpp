#include "bake/bake.h"

#include "bake/kind.h"
#include "bake/poses.h"
#include "bake/room.h"
#include "bake/test_row.h"
#include "bake/transitions.h"
#include "mesh/uv_sets.h"

namespace ripple::bake {

namespace {

Baked encode(const source::FrameSource& source, const SamplePlan& plan, const Poses& poses,
             const Recipe& recipe, const base::Progress& progress, const Baked* earlier) {
    requireFitting(recipe);
    Baked baked = recipe.kind->encode(source, plan, poses, recipe, progress, earlier);
    bake::BakeFormat& set = baked.textures;
    writeTestRows(baked.textures);
    set.blend = recipe.blend;
    set.transitions = transitionsOf(set.clips, recipe.transitions);
    // Nobody asked for the usual ones, which players may shorten.
    const base::Findings fades = longFades(set.clips, recipe.transitions);
    baked.findings.insert(baked.findings.end(), fades.begin(), fades.end());
    return baked;
}

} // namespace

std::span<const glm::vec3> Baked::shippedPositions(const mesh::Mesh& mesh) const {
    return rig ? rig->positions : mesh.positions;
}

std::span<const glm::vec3> Baked::shippedNormals(const mesh::Mesh& mesh) const {
    return rig ? rig->normals : mesh.normals;
}

mesh::Mesh Baked::shippedMesh(mesh::Mesh mesh) const {
    if (rig) {
        mesh.positions = rig->positions;
        mesh.normals = rig->normals;
        mesh.tangents = rig->tangents;
    }
    return mesh;
}

TextureReader Baked::reader(const mesh::Mesh& mesh) const {
    return {textures, columnOfVertex, shippedPositions(mesh), shippedNormals(mesh)};
}

void requireFitting(const Recipe& recipe) {
    if (recipe.lookupUvSet && *recipe.lookupUvSet > mesh::kMostLookupUvSet) {
        base::fail("lookup UV set", "is " + std::to_string(*recipe.lookupUvSet) + ", counted from 0",
                   "choose one from 0 to " + std::to_string(mesh::kMostLookupUvSet));
    }
    positionStore(recipe.positionStore); // throws for a name that there is not
    normalStore(recipe.normalStore);
    if (recipe.blend == Blend::cubic && !recipe.kind->cubic) {
        base::fail("cubic blending", std::string("is no choice for a bake of ") + recipe.kind->id,
                   "blend linearly, or bake vertices or joints");
    }
    if (recipe.blend == Blend::cubic && recipe.thin > 0.0) {
        base::fail("cubic blending", "needs frames at even times, and thinned ones are not",
                   "blend linearly, or keep every Nth frame");
    }
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
