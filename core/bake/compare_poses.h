#pragma once

#include "bake/error.h"

#include <functional>

namespace ripple::bake {

/// Gives the pose of an instant: positions and normals have one element a vertex.
using PoseAt =
    std::function<void(std::size_t instant, std::span<glm::vec3> positions, std::span<glm::vec3> normals)>;

/// Compares two ways to the same poses, at `instants` of them. Of the report `all` and `atFrames` (which are
/// the same), the normals, the worst vertex (its `worstFrame` is the instant) and one clipBounds, of what
/// was read, are filled in. A position that is no number is infinitely far off.
ErrorReport comparePoses(std::size_t vertices, std::size_t instants, const PoseAt& truth, const PoseAt& read,
                         const base::Progress& progress = base::noProgress());

} // namespace ripple::bake
