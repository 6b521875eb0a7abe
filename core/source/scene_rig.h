#pragma once

#include "source/rig.h"
#include "source/scene_animation.h"

#include <span>
#include <string>
#include <vector>

#include <glm/mat4x4.hpp>

namespace ripple::source {

/// A joint's transform is the global transform of its node · bind.
struct RigJoint {
    std::size_t node = 0;
    glm::dmat4 bind{1.0};
};

struct SceneRig {
    Rig rig;
    std::vector<RigJoint> joints; ///< in the order of rig.joints
};

/// The joints and weights that move a scene's mesh; joints that no vertex follows are left out, and those
/// that parts and skins share are one. Normals of parts without any are zero. `rest`: the nodes' rest pose.
/// Throws base::Failure where an animation moves morph targets too; `file` names it.
SceneRig makeRig(std::span<const SceneNode> nodes, const SceneGeometry& geometry,
                 std::span<const SceneAnimation> animations, const ScenePose& rest, const std::string& file);

} // namespace ripple::source
