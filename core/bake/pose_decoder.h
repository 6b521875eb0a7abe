#pragma once

#include "bake/frame_blend.h"

#include <span>

#include <glm/vec3.hpp>
#include <glm/vec4.hpp>

namespace ripple::bake {

class TextureReader;

/// The way back of one kind of bake: poses out of textures.
class PoseDecoder {
public:
    /// `reader` must outlive this.
    explicit PoseDecoder(const TextureReader& reader) : reader_(reader) {}
    virtual ~PoseDecoder() = default;
    PoseDecoder(const PoseDecoder&) = delete;
    PoseDecoder& operator=(const PoseDecoder&) = delete;

    /// Stored frames, blended as the emitted code blends them. Spans have one element a vertex; `normals`
    /// may be empty, and `positions` where the kind holds vertices. Safe from several threads.
    virtual void blend(const FrameBlend& moment, std::span<glm::vec3> positions,
                       std::span<glm::vec3> normals) const = 0;

protected:
    const TextureReader& reader_;
};

/// q · v · q⁻¹ for a unit quaternion x y z w. The emitted code prints this formula.
glm::vec3 turned(const glm::vec4& q, const glm::vec3& v);
/// `q` or −q, the same rotation: the one that is near `other`.
glm::vec4 nearTo(const glm::vec4& other, const glm::vec4& q);
/// At length 1; `otherwise` where it has none.
glm::vec3 unitOr(const glm::vec3& n, const glm::vec3& otherwise);

} // namespace ripple::bake
