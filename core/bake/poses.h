#pragma once

#include "bake/sampling.h"

#include <span>
#include <vector>

namespace ripple::bake {

/// The poses of a plan's kept frames, one at a time: from memory, or asked of the source each time, so that a
/// bake of many frames needs memory for a few only. Safe from several threads.
class Poses {
public:
    /// All must outlive this.
    Poses(const source::FrameSource& source, const SamplePlan& plan);
    explicit Poses(const Frames& frames);

    std::size_t vertices() const { return vertices_; }
    std::size_t frames() const { return frames_; }

    struct Pose {
        std::span<const glm::vec3> positions;
        std::span<const glm::vec3> normals; ///< empty if they were not wanted
    };
    /// Room for one pose; each thread has its own.
    struct Scratch {
        std::vector<glm::vec3> positions;
        std::vector<glm::vec3> normals;
    };
    enum class Want { positions, both };
    /// Throws base::Failure for a frame that cannot be read or is not finite.
    Pose at(std::size_t frame, Want want, Scratch& scratch) const;

private:
    struct Slot {
        const ClipPlan* clip = nullptr;
        std::size_t frame = 0;
    };
    std::size_t vertices_ = 0;
    std::size_t frames_ = 0;
    const Frames* held_ = nullptr;
    const source::FrameSource* source_ = nullptr;
    std::vector<Slot> slots_;
};

} // namespace ripple::bake
