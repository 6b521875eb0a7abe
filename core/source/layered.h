#pragma once

#include "source/frame_source.h"

#include <memory>

namespace ripple::source {

/// A source that passes on another one and changes some of it.
class Layered : public FrameSource {
public:
    explicit Layered(std::shared_ptr<const FrameSource> below) : below_(std::move(below)) {}

    const mesh::Mesh& mesh() const override { return below_->mesh(); }
    std::span<const Clip> clips() const override { return below_->clips(); }
    std::span<const MeshEntry> meshes() const override { return below_->meshes(); }
    std::span<const base::Finding> findings() const override { return below_->findings(); }
    std::string format() const override { return below_->format(); }
    std::vector<std::filesystem::path> files() const override { return below_->files(); }
    std::size_t storedFrames() const override { return below_->storedFrames(); }
    Space space() const override { return below_->space(); }
    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        below_->sample(clip, seconds, positions, normals);
    }
    const Skeleton& skeleton() const override { return below_->skeleton(); }
    void sampleJoints(std::size_t clip, double seconds, std::span<glm::vec3> places) const override {
        below_->sampleJoints(clip, seconds, places);
    }
    std::vector<float> jointWeights(std::size_t joint) const override { return below_->jointWeights(joint); }
    std::size_t influences() const override { return below_->influences(); }
    std::vector<std::string> morphs() const override { return below_->morphs(); }

protected:
    std::shared_ptr<const FrameSource> below_;
};

} // namespace ripple::source
