#pragma once

#include "mesh/mesh.h"

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <vector>

#include <glm/vec2.hpp>
#include <glm/vec3.hpp>

namespace ripple::scatter {

/// A place on a ground.
struct Spot {
    glm::vec3 position{0.0f};
    glm::vec3 normal{0.0f, 1.0f, 0.0f}; ///< unit length
};

/// What copies stand on. Metres, +Y up.
class Ground {
public:
    virtual ~Ground() = default;
    /// Straight above or below (x, z): the highest place there; none beside the ground.
    virtual std::optional<Spot> below(const glm::vec2& xz) const = 0;
};

/// y = 0 everywhere.
std::unique_ptr<Ground> flatGround();
/// Dunes about as high as `rise` metres and `apart` metres from crest to crest; the same for everyone.
std::unique_ptr<Ground> unevenGround(float rise = 0.6f, float apart = 9.0f);
/// The triangles of a mesh as they are modelled. Throws base::Failure for one without area as seen from
/// above. The mesh is not needed afterwards.
std::unique_ptr<Ground> meshGround(const mesh::Mesh& mesh);

} // namespace ripple::scatter
