#include "source/in_space.h"

#include "source/rig.h"

#include <utility>

#include <glm/mat3x3.hpp>
#include <glm/mat4x4.hpp>
#include <glm/matrix.hpp>

namespace ripple::source {

InSpace::InSpace(std::shared_ptr<const FrameSource> below, const mesh::AxisMap& map)
    : Layered(std::move(below)),
      map_(map),
      mesh_(below_->mesh()) {
    map_.place(mesh_.positions);
    map_.turn(mesh_.normals);
    orient(mesh_.tangents);
    for (std::size_t i = 0; map_.mirrors() && i + 2 < mesh_.indices.size(); i += 3) {
        std::swap(mesh_.indices[i + 1], mesh_.indices[i + 2]);
    }
}

void InSpace::orient(std::span<glm::vec4> tangents) const {
    for (glm::vec4& t : tangents) {
        // The bitangent is w · cross(normal, tangent), and a mirror turns cross products round.
        t = glm::vec4(glm::vec3(map_.turned(glm::dvec3(t))), map_.mirrors() ? -t.w : t.w);
    }
}

void InSpace::sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                     std::span<glm::vec3> normals) const {
    below_->sample(clip, seconds, positions, normals);
    map_.place(positions);
    map_.turn(normals);
}

void InSpace::sampleLoop(std::size_t clip, const LoopSpan& span, double seconds,
                         std::span<glm::vec3> positions, std::span<glm::vec3> normals) const {
    below_->sampleLoop(clip, span, seconds, positions, normals);
    map_.place(positions);
    map_.turn(normals);
}

void InSpace::sampleJoints(std::size_t clip, double seconds, std::span<glm::vec3> places) const {
    below_->sampleJoints(clip, seconds, places);
    map_.place(places);
}

std::shared_ptr<const Rig> InSpace::rig() const {
    Rig placed = *below_->rig();
    map_.place(placed.positions);
    map_.turn(placed.normals);
    orient(placed.tangents);
    return std::make_shared<const Rig>(std::move(placed));
}

void InSpace::sampleRig(std::size_t clip, double seconds, std::span<glm::dmat4> transforms) const {
    below_->sampleRig(clip, seconds, transforms);
    const glm::dmat4 space(map_.unit * map_.matrix());
    const glm::dmat4 back = glm::inverse(space);
    for (glm::dmat4& m : transforms) {
        m = space * m * back;
    }
}

} // namespace ripple::source
