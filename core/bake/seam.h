#pragma once

#include <array>
#include <cstddef>
#include <span>

#include <glm/vec3.hpp>

namespace ripple::bake {

struct Frames;

/// The poses on either side of a seam, vertices each: the last two frames, then the first two.
struct SeamPoses {
    std::span<const glm::vec3> before;
    std::span<const glm::vec3> last;
    std::span<const glm::vec3> start;
    std::span<const glm::vec3> second;
};

/// Gap at a seam (docs/definitions.md §1): the most that any vertex travels over the seam beyond the mean of
/// what it travels over the two neighbouring steps, in metres; 0 when none travels further.
double seamGap(const SeamPoses& poses);
/// The same at the seam N−1 → 0 of frames first .. + count.
double seamGap(const Frames& frames, std::size_t first, std::size_t count);
/// metres: most that a vertex's step changes from before the seam to after it.
double seamJump(const SeamPoses& poses);

/// What a seam shows, and what the clip shows elsewhere to compare it with.
struct Seam {
    double gap = 0.0;           ///< metres (seamGap)
    double medianStep = 0.0;    ///< metres: half of the clip's other steps are smaller
    double velocityBreak = 0.0; ///< metres a second: most that a vertex's velocity jumps over the seam
    double medianBreak = 0.0;   ///< the same for the two steps around each other frame, median
};
/// Frames first .. + count of a clip that plays them at `fps`, one after another.
Seam measureSeam(const Frames& frames, std::size_t first, std::size_t count, double fps);

/// How rough the middle step of six frames in a row is (docs/definitions.md §1), as weights of the frames. A
/// smooth motion makes both sums small, since the first is half a third difference and the second vanishes
/// for every cubic; a repeated, missing or foreign frame makes the first as large as a step, a reversal the
/// second.
/// Place: the middle step less the mean of the steps beside it.
constexpr std::array<double, 6> kPlaceWeights = {0.0, -0.5, 1.5, -1.5, 0.5, 0.0};
/// Velocity: half of how much more the step changes from before the middle one to after it than the changes
/// beside those two lead one to expect.
constexpr std::array<double, 6> kVelocityWeights = {-0.5, 1.5, -1.0, -1.0, 1.5, -0.5};
/// Frames on either side of the middle step.
constexpr std::size_t kSeamReach = 3;

/// metres: the largest √(place² + velocity²) of any vertex. Six poses of as many vertices each; for a seam
/// the last three frames, then the first three.
double roughness(const std::array<std::span<const glm::vec3>, 6>& poses);

} // namespace ripple::bake
