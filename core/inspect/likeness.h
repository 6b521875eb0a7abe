#pragma once

#include "base/no_progress.h"
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
    /// roughness[first · frames + last]: of the seam from frame `last` to frame `first` (bake::roughness, but
    /// as a root of the mean square over the vertices), metres. 0 for windows of fewer than kShortestWindow.
    std::vector<float> roughness;
    float ordinaryRoughness = 0.0f; ///< median of the steps inside the clip, metres

    float poseAt(std::size_t i, std::size_t j) const { return pose[i * frames + j]; }
    float velocityAt(std::size_t i, std::size_t j) const { return velocity[i * frames + j]; }
    float roughnessAt(std::size_t first, std::size_t last) const { return roughness[first * frames + last]; }
    /// What a loop over a seam from j to i would show: pose and velocity together, metres.
    float unlikeness(std::size_t i, std::size_t j) const;
};

/// By the Gram matrix of the poses less their mean: |x − y|² = x·x + y·y − 2 x·y, and that of the steps and
/// of the seams from the same matrix. Takes the poses, since it works in their memory. Sums of 1 024 products
/// in 32 bits, those in 64. The result depends neither on the number of threads nor on the processor.
Likeness measureLikeness(PoseTable poses, const base::Progress& progress = base::noProgress());

/// Frames of the shortest window that can loop: the frames on either side of its seam are its own.
constexpr std::size_t kShortestWindow = 6;

/// A stretch of a clip that would loop: frames first..last are kept, and frame last leads into frame first.
struct LoopWindow {
    std::size_t first = 0;
    std::size_t last = 0;
    float roughness = 0.0f; ///< metres, of the seam
    std::size_t frames() const { return last - first + 1; }
    bool operator==(const LoopWindow& other) const { return first == other.first && last == other.last; }
};

/// What windows are wanted.
struct WindowWish {
    std::size_t fewest = 0; ///< frames; 0: a third of the clip, or 24 in longer ones
    std::size_t length = 0; ///< frames; 0: any
    std::size_t most = 16;  ///< windows
};

/// The windows with the smoothest seams: local minima of the roughness, none a mere shift of a better one.
/// A window moves and returns: some frame in it is at least as far from its first as its seam is rough,
/// and at least a two-hundredth of the largest distance of any two frames. For a wanted length, windows of
/// that length first; then those within a tenth of it, also such as do not return.
std::vector<LoopWindow> bestWindows(const Likeness& likeness, const WindowWish& wish);

/// True if `a` loops better than `b`: its seam is smoother. Seams that are no rougher than `smooth` (metres)
/// are as good as each other; of those the longer window repeats less, and the earlier is taken of equals.
bool loopsBetter(const LoopWindow& a, const LoopWindow& b, double smooth);

/// A seam this many times as rough as the steps inside the clip counts as perfectly smooth.
constexpr double kSmoothSeam = 0.01;

} // namespace ripple::inspect
