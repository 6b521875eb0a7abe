#pragma once

#include "base/lanes.h"

#include <array>
#include <cstdint>
#include <span>
#include <vector>

namespace ripple::motion {

/// A piece of noise that repeats: `cells` lattice cells along each of its axes, then it begins again, to the
/// last bit. Another seed is another piece.
struct NoiseTile {
    std::array<std::int32_t, 3> cells{4, 4, 4}; ///< at least 1
    std::uint32_t seed = 1;
    bool operator==(const NoiseTile&) const = default;
};

/// A number for each lattice point: the same on processor and GPU. (A multiply-and-shift hash of our own; all
/// arithmetic is modulo 2³².) Coordinates are those inside the tile.
std::uint32_t latticeHash(std::uint32_t x, std::uint32_t y, std::uint32_t z, std::uint32_t seed);

/// Gradient noise: at lattice points 0 with a gradient whose components are −1..1 (ten bits of the hash
/// each), blended by 6t⁵ − 15t⁴ + 10t³ in each direction, so that value, slope and the slope's slope have no
/// breaks. Scaled to lie in −1..1; centred: every lattice point is 0. Coordinates are in cells. `slope` gets
/// the derivatives by each coordinate.
void noise(const NoiseTile& tile, int dimensions, const base::Lanes coordinates[3], base::Lanes& value,
           base::Lanes slope[3]);

/// The same for one place.
struct NoiseAt {
    float value = 0.0f;
    std::array<float, 3> slope{};
};
NoiseAt noise(const NoiseTile& tile, int dimensions, const std::array<float, 3>& coordinates);

/// A closed curve through `values` at i / n of the circle (Catmull and Rom's cubic): value and slope by x,
/// for x in 0..1. At least three values.
void closedCurve(std::span<const float> values, const base::Lanes& x, base::Lanes& value, base::Lanes& slope);
float closedCurve(std::span<const float> values, float x);
/// The curve's values at i / count: nearly the same curve through more or fewer points, each within −1..1.
std::vector<float> resampledCurve(std::span<const float> values, std::size_t count);
/// The most that it reaches in both directions.
std::array<float, 2> curveRange(std::span<const float> values);

} // namespace ripple::motion
