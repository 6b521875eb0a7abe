#pragma once

#include "base/progress.h"
#include "base/raw_vector.h"

#include <cstddef>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::inspect {

/// Poses of a clip at some or all of its vertices: points[frame · vertices + i]. Frames lie evenly in time.
struct PoseTable {
    std::size_t frames = 0;
    std::size_t vertices = 0;
    base::RawVector<glm::vec3> points;

    const glm::vec3* of(std::size_t frame) const { return points.data() + frame * vertices; }
};

/// How unlike every frame of a clip is to every other: frames × frames, symmetric, 0 on the diagonal, in
/// metres. pose(i, j) is the root of the mean squared distance between the vertices in frames i and j.
/// velocity(i, j) is the same of their steps to the next frame; the last frame's step is taken as that of the
/// one before.
struct Likeness {
    std::size_t frames = 0;
    std::vector<float> pose;
    std::vector<float> velocity;
    float largestPose = 0.0f;

    float poseAt(std::size_t i, std::size_t j) const { return pose[i * frames + j]; }
    float velocityAt(std::size_t i, std::size_t j) const { return velocity[i * frames + j]; }
    /// What a loop over a seam from j to i would show: pose and velocity together, metres.
    float unlikeness(std::size_t i, std::size_t j) const;
};

/// By the Gram matrix of the poses less their mean: |x − y|² = x·x + y·y − 2 x·y, and that of the steps from
/// the same matrix. Takes the poses, since it works in their memory. Sums of 1 024 products in 32 bits, those
/// in 64. The result depends neither on the number of threads nor on the processor.
Likeness measureLikeness(PoseTable poses, const base::Progress& progress = {});

/// A stretch of a clip that would loop: frames first..last are kept, and frame last + 1 is like frame first.
struct LoopWindow {
    std::size_t first = 0;
    std::size_t last = 0;
    float unlikeness = 0.0f; ///< metres, of frames first and last + 1
    std::size_t frames() const { return last - first + 1; }
    bool operator==(const LoopWindow&) const = default;
};

/// What windows are wanted.
struct WindowWish {
    std::size_t fewest = 0; ///< frames; 0: a third of the clip, which loops better than a short one repeats
    std::size_t length = 0; ///< frames; 0: any
    std::size_t most = 12;  ///< windows
};

/// The windows with the smallest unlikeness: local minima of the map, none a mere shift of a better one. For
/// a wanted length, windows of that length first; then those within a tenth of it.
std::vector<LoopWindow> bestWindows(const Likeness& likeness, const WindowWish& wish);

} // namespace ripple::inspect
