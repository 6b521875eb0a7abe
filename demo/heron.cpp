// The heron as a GLB: mesh, skin, three clips.

#include "demo/make_demo.h"

#include "demo/heron_clips.h"
#include "demo/heron_mesh.h"
#include "demo/heron_paint.h"
#include "demo/skinned_model.h"

namespace ripple::demo {

void makeHeron(const std::filesystem::path& file, float detail) {
    HeronMesh heron = buildHeron(detail);
    SkinnedModel model;
    model.name = "heron";
    model.mesh = std::move(heron.mesh);
    model.joints = std::move(heron.joints);
    model.weights = std::move(heron.weights);
    for (const HeronBone& bone : kHeronBones) {
        model.bones.push_back({bone.name, bone.parent, bone.rest});
    }
    model.moving = kBody;
    for (const HeronClip& clip : heronClips()) {
        model.clips.push_back(
            {clip.name, clip.seconds, [at = clip.at](float seconds) {
                 const HeronPose pose = solvePosture(at(seconds));
                 return SkeletonPose{{pose.rotation.begin(), pose.rotation.end()}, pose.bodyTranslation};
             }});
    }
    writeSkinned(std::move(model), paintHeron(), "plumage", file);
}

} // namespace ripple::demo
