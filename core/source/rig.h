#pragma once

#include "source/skinning.h"

#include <string>
#include <vector>

#include <glm/vec3.hpp>
#include <glm/vec4.hpp>

namespace ripple::source {

/// A mesh that nothing moves but joints: a vertex is at Σ wᵢ·Mᵢ·(position, 1), with the transforms Mᵢ of
/// FrameSource::sampleRig(). Its positions are those of the rest pose where all joints of the mesh agree on
/// that, else of the pose in which it was bound to them. Metres, +Y up, as the source's mesh.
struct Rig {
    std::vector<std::string> joints;  ///< names; a part that no skin moves follows its node
    SkinWeights weights;              ///< of all vertices: the strongest first, no joint twice
    std::vector<glm::vec3> positions; ///< vertices
    std::vector<glm::vec3> normals;   ///< vertices; unit length, or zero
    std::vector<glm::vec4> tangents;  ///< vertices, or empty
};

} // namespace ripple::source
