#pragma once

#include "mesh/mesh.h"

#include <cstddef>
#include <span>
#include <vector>

#include <glm/vec2.hpp>

namespace ripple::scatter {

/// How what stands on the ground moves over it in a clip that walks on the spot.
struct Feet {
    /// For each step from frame to frame in which something stands: how far that moves, metres in x and z.
    std::vector<glm::vec2> steps;
    float seconds = 0.0f; ///< from frame to frame
    float speed = 0.0f;   ///< metres a second over the ground at which feet slide least; 0: it does not walk
    float facing = 0.0f;  ///< the way that it walks: turns about +Y, 0 is +Z, a quarter is +X

    bool walks() const { return speed > 0.0f; }
};

/// Measures a clip's frames (frames × vertices, metres, at a rate of `fps`; `closed`: the last leads on to
/// the first). On the ground is what lies within a hundredth of the mesh's height over its lowest place,
/// before and after a step. The speed is the mean of what the standing move by, by least squares; a clip
/// whose standing parts move less than a fiftieth of its height a second, or each its own way, does not walk.
Feet measureFeet(std::span<const glm::vec3> frames, std::size_t vertices, double fps, bool closed);

/// Metres by which the feet slide in a loop where the copy goes at `speed` metres a second the way that
/// `facing` says: the sum over all steps of what the standing parts move over the ground.
double slideOf(const Feet& feet, double speed, double facing);

} // namespace ripple::scatter
