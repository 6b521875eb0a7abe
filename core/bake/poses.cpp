#include "bake/poses.h"

namespace ripple::bake {

Poses::Poses(const source::FrameSource& source, const SamplePlan& plan)
    : vertices_(source.mesh().vertexCount()),
      frames_(plan.frameCount()),
      source_(&source) {
    for (const ClipPlan& clip : plan.clips) {
        for (std::size_t f = 0; f < clip.seconds.size(); ++f) {
            slots_.push_back({&clip, f});
        }
    }
}

Poses::Poses(const Frames& frames) : vertices_(frames.vertices), frames_(frames.frames), held_(&frames) {}

Poses::Pose Poses::at(std::size_t frame, Want want, Scratch& scratch) const {
    const bool both = want == Want::both;
    if (held_) {
        return {held_->positionsOf(frame), both ? held_->normalsOf(frame) : std::span<const glm::vec3>()};
    }
    const Slot& slot = slots_[frame];
    scratch.positions.resize(vertices_);
    scratch.normals.resize(both ? vertices_ : 0);
    samplePose(*source_, *slot.clip, slot.clip->seconds[slot.frame], scratch.positions, scratch.normals);
    requireFinite(scratch.positions, *slot.clip, slot.frame);
    return {scratch.positions, scratch.normals};
}

} // namespace ripple::bake
