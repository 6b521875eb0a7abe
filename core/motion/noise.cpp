#include "motion/noise.h"

#include "motion/lane_math.h"

#include <algorithm>
#include <cmath>

namespace ripple::motion {

using base::IntLanes;
using base::Lanes;
using base::UintLanes;

namespace {

constexpr std::uint32_t kX = 0x8DA6B343u; // odd: multiplying by them loses nothing
constexpr std::uint32_t kY = 0xD8163841u;
constexpr std::uint32_t kZ = 0xCB1AB31Fu;
constexpr std::uint32_t kSeed = 0x9E3779B1u;
constexpr std::uint32_t kMix = 0x7FEB352Du;
constexpr std::uint32_t kMix2 = 0x846CA68Bu;

template <typename Word>
Word hashed(const Word& x, const Word& y, const Word& z, std::uint32_t seed) {
    Word h = x * kX + y * kY + z * kZ + seed * kSeed;
    h ^= h >> 16;
    h *= kMix;
    h ^= h >> 15;
    h *= kMix2;
    h ^= h >> 16;
    return h;
}

/// `cell` brought into 0 .. cells − 1; cells are whole numbers, exact as floats.
UintLanes wrapped(const Lanes& cell, std::int32_t cells) {
    const auto n = static_cast<float>(cells);
    Lanes inside = cell - n * floorOf(cell / n);
    // Division may round up to the next whole number just below a multiple.
    inside = base::select(inside >= base::lanes(n), inside - n, inside);
    inside = base::select(inside < base::lanes(0.0f), inside + n, inside);
    return reinterpret_cast<UintLanes>(__builtin_convertvector(inside, IntLanes));
}

/// Ten bits of `hash` as −1..1.
Lanes component(const UintLanes& hash, int shift) {
    const UintLanes bits = (hash >> shift) & 1023u;
    return __builtin_convertvector(reinterpret_cast<IntLanes>(bits), Lanes) * (2.0f / 1023.0f) - 1.0f;
}

} // namespace

std::uint32_t latticeHash(std::uint32_t x, std::uint32_t y, std::uint32_t z, std::uint32_t seed) {
    return hashed(x, y, z, seed);
}

void noise(const NoiseTile& tile, int dimensions, const Lanes coordinates[3], Lanes& value, Lanes slope[3]) {
    Lanes offset[3]; // from the lower lattice point
    Lanes blend[3];  // weight of the upper one
    Lanes change[3]; // the weight's derivative
    UintLanes place[3][2];
    for (int d = 0; d < 3; ++d) {
        slope[d] = base::lanes(0.0f);
        if (d >= dimensions) {
            offset[d] = blend[d] = change[d] = base::lanes(0.0f);
            place[d][0] = place[d][1] = UintLanes{};
            continue;
        }
        const Lanes cell = floorOf(coordinates[d]);
        const Lanes t = coordinates[d] - cell;
        const auto axis = static_cast<std::size_t>(d);
        offset[d] = t;
        blend[d] = t * t * t * (t * (t * 6.0f - 15.0f) + 10.0f);
        change[d] = 30.0f * t * t * (t * (t - 2.0f) + 1.0f);
        place[d][0] = wrapped(cell, tile.cells[axis]);
        place[d][1] = wrapped(cell + 1.0f, tile.cells[axis]);
    }
    value = base::lanes(0.0f);
    const Lanes one = base::lanes(1.0f);
    for (unsigned corner = 0; corner < 1u << dimensions; ++corner) {
        Lanes weight = one;
        const UintLanes hash =
            hashed(place[0][corner & 1], place[1][corner >> 1 & 1], place[2][corner >> 2 & 1], tile.seed);
        Lanes along = base::lanes(0.0f);
        Lanes gradient[3];
        Lanes part[3];
        for (int d = 0; d < dimensions; ++d) {
            const bool upper = corner >> d & 1;
            gradient[d] = component(hash, 10 * d);
            along += gradient[d] * (upper ? offset[d] - 1.0f : offset[d]);
            part[d] = upper ? blend[d] : one - blend[d];
            weight *= part[d];
        }
        value += weight * along;
        for (int d = 0; d < dimensions; ++d) {
            Lanes others = one;
            for (int e = 0; e < dimensions; ++e) {
                others = e == d ? others : others * part[e];
            }
            const bool upper = corner >> d & 1;
            slope[d] += weight * gradient[d] + (upper ? change[d] : -change[d]) * others * along;
        }
    }
    // Each corner gives at most the sum of its distances along the axes, and their weighted mean is at most
    // half the number of dimensions.
    const float scale = 2.0f / static_cast<float>(dimensions);
    value *= scale;
    for (int d = 0; d < dimensions; ++d) {
        slope[d] *= scale;
    }
}

NoiseAt noise(const NoiseTile& tile, int dimensions, const std::array<float, 3>& coordinates) {
    const Lanes at[3] = {base::lanes(coordinates[0]), base::lanes(coordinates[1]),
                         base::lanes(coordinates[2])};
    Lanes value;
    Lanes slope[3];
    noise(tile, dimensions, at, value, slope);
    return {value[0], {slope[0][0], slope[1][0], slope[2][0]}};
}

void closedCurve(std::span<const float> values, const Lanes& x, Lanes& value, Lanes& slope) {
    const std::size_t n = values.size();
    for (std::size_t lane = 0; lane < base::kLanes; ++lane) {
        const float at = x[lane] * static_cast<float>(n);
        const float whole = std::floor(at);
        const float t = at - whole;
        const auto i = static_cast<std::size_t>(std::clamp(whole, 0.0f, static_cast<float>(n - 1)));
        const float a = values[(i + n - 1) % n];
        const float b = values[i];
        const float c = values[(i + 1) % n];
        const float d = values[(i + 2) % n];
        const float k1 = 0.5f * (c - a);
        const float k2 = a - 2.5f * b + 2.0f * c - 0.5f * d;
        const float k3 = 1.5f * (b - c) + 0.5f * (d - a);
        value[lane] = b + t * (k1 + t * (k2 + t * k3));
        slope[lane] = (k1 + t * (2.0f * k2 + t * 3.0f * k3)) * static_cast<float>(n);
    }
}

float closedCurve(std::span<const float> values, float x) {
    Lanes value;
    Lanes slope;
    closedCurve(values, base::lanes(x), value, slope);
    return value[0];
}

std::vector<float> resampledCurve(std::span<const float> values, std::size_t count) {
    std::vector<float> result(count);
    for (std::size_t i = 0; i < count; ++i) {
        const float at = closedCurve(values, static_cast<float>(i) / static_cast<float>(count));
        result[i] = std::clamp(at, -1.0f, 1.0f);
    }
    return result;
}

std::array<float, 2> curveRange(std::span<const float> values) {
    std::array<float, 2> range{values[0], values[0]};
    // Between two points a cubic is widest where its slope is 0; a fine walk finds it to a thousandth, and
    // the points themselves are exact.
    constexpr std::size_t kSteps = 64;
    for (std::size_t i = 0; i < values.size() * kSteps; ++i) {
        const float value =
            closedCurve(values, static_cast<float>(i) / static_cast<float>(values.size() * kSteps));
        range[0] = std::min(range[0], value);
        range[1] = std::max(range[1], value);
    }
    return range;
}

} // namespace ripple::motion
