#pragma once

#include "mesh/axis_map.h"
#include "source/layered.h"

#include <memory>

namespace ripple::source {

/// A source with other axes and another unit: positions, normals, tangents, joints and their transforms.
/// Where the map mirrors, triangles run the other way round, so that they still face outwards, and so do
/// tangents.
class InSpace : public Layered {
public:
    /// `map` makes what this source gives of what the one below gives.
    InSpace(std::shared_ptr<const FrameSource> below, const mesh::AxisMap& map);

    const mesh::Mesh& mesh() const override { return mesh_; }
    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override;
    void sampleLoop(std::size_t clip, const LoopSpan& span, double seconds, std::span<glm::vec3> positions,
                    std::span<glm::vec3> normals) const override;
    void sampleJoints(std::size_t clip, double seconds, std::span<glm::vec3> places) const override;
    std::shared_ptr<const Rig> rig() const override;
    void sampleRig(std::size_t clip, double seconds, std::span<glm::dmat4> transforms) const override;

private:
    void orient(std::span<glm::vec4> tangents) const;

    mesh::AxisMap map_;
    mesh::Mesh mesh_;
};

} // namespace ripple::source
