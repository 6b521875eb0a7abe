#pragma once

#include "bake/recipe.h"
#include "bake/texture_set.h"

#include <array>
#include <cstddef>

namespace ripple::bake {

/// Stored frames that make up a moment, each with its weight; weights sum to 1. Two that it lies between, or
/// four on a cubic curve; of a cross-fade those of both clips.
///
/// q and −q are the same rotation, and a blend goes the short way between two that lie near each other.
/// `near` says near which entry the rotations of each are taken: along the curve each near its neighbour, so
/// that turns of up to half a round from frame to frame come out right; of what fades in, the first near the
/// first.
struct FrameBlend {
    static constexpr std::size_t kMost = 8;

    std::size_t count = 0;
    std::array<std::size_t, kMost> frames{}; ///< counted in the texture
    std::array<float, kMost> weights{};      ///< none is 0
    std::array<std::size_t, kMost> near{};   ///< of each an entry before it; of the first itself

    void add(std::size_t frame, float weight, std::size_t nearEntry = 0);
};

/// FrameBlend::near of a curve's frames at, next, before, after.
constexpr std::array<std::size_t, 4> kNearOnCurve = {0, 0, 0, 1};
/// FrameBlend::near of the `i`th frame of a moment that fades in behind the `first` frames of another, where
/// it has `near` in its own.
constexpr std::size_t nearInFade(std::size_t i, std::size_t near, std::size_t first) {
    return i == 0 ? 0 : first + near;
}

/// The frames that show `frame` of a clip (docs/definitions.md §5). Linear: those of framePair(). Cubic: the
/// curve through four frames that has at each of the middle two the slope between its neighbours (Catmull and
/// Rom 1974); at an open clip's ends the parabola through the three frames there; linear where a clip has
/// fewer than four. In the order at, next, before, after. The emitted code prints this very formula.
FrameBlend blendAt(const BakedClip& clip, float frame, Blend blend);

/// Weights of the frames before, at, behind and two behind, `t` (0..1) of the way from the second to the
/// third. `atStart`, `atEnd`: there is none before, or two behind, whose weight then is 0.
std::array<float, 4> cubicWeights(float t, bool atStart, bool atEnd);

/// 0..1 through a cross-fade as the weight of what comes in: 3p² − 2p³, whose slope is 0 at both ends.
double easedFade(double progress);

/// A cross-fade from `from` to `to`, by that weight.
FrameBlend faded(const FrameBlend& from, const FrameBlend& to, float weight);

} // namespace ripple::bake
