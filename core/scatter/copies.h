#pragma once

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace ripple::scatter {

/// What the copies of an asset differ in (docs/definitions.md §8): every number is a hash of the seed, the
/// copy's index and the purpose, the same on processor and GPU.
struct Differences {
    std::uint32_t seed = 1;
    float leastSize = 1.0f; ///< factors, above 0
    float mostSize = 1.0f;
    float turnSpread = 1.0f;  ///< part of a whole turn about the up direction, 0..1
    float startSpread = 1.0f; ///< part of the clip's way at which copies begin, 0 (in unison) to 1
    float rateSpread = 0.0f; ///< rates lie in 1 ± this, 0 to below 1; each copy's loop closes in its own time
    /// How often each clip is chosen, not negative; empty, or all 0: the first alone.
    std::vector<float> clipWeights;
    bool operator==(const Differences&) const = default;
};

/// One copy's.
struct Difference {
    int clip = 0;
    float start = 0.0f; ///< turns: part of the clip's way, 0..1
    float rate = 1.0f;  ///< of the clip's own
    float turn = 0.0f;  ///< turns about the up direction, 0..1
    float size = 1.0f;
    float tint = 0.0f; ///< from the first tint to the second, 0..1
    float id = 0.0f;   ///< 0..1, for scores and materials
    bool operator==(const Difference&) const = default;
};

/// The purposes that a copy's hash is for; the numbers are part of the format.
enum class Purpose : std::uint32_t {
    clip,
    start,
    rate,
    turn,
    size,
    tint,
    id,
    place,
    speed,
    heading,
    stay,
    image
};

/// 0..1, below 1: 24 bits of the hash, exact in single precision. `part`: of purposes that need several.
float hashed(std::uint32_t seed, std::uint32_t index, Purpose purpose, std::uint32_t part = 0);

Difference differenceOf(const Differences& differences, std::uint32_t index);

/// Up to which hash each clip is chosen: ascending, the last is 1.
std::vector<float> clipLimits(std::span<const float> weights);

} // namespace ripple::scatter
