#include "bake/compare.h"

#include "base/lanes.h"
#include "base/parallel.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstdint>
#include <functional>
#include <iterator>
#include <limits>
#include <memory>
#include <mutex>
#include <vector>

#include <glm/geometric.hpp>

namespace ripple::bake {

namespace {

using base::Lanes;

constexpr std::size_t kLanes = base::kLanes;

using Doubles = double __attribute__((vector_size(4 * sizeof(double))));

const float* floatsOf(std::span<const glm::vec3> vectors) {
    return reinterpret_cast<const float*>(vectors.data());
}

/// Squared distances of four vectors.
Lanes squaresOf(const float* truth, const float* read) {
    Lanes x;
    Lanes y;
    Lanes z;
    Lanes rx;
    Lanes ry;
    Lanes rz;
    base::loadVectors(truth, x, y, z);
    base::loadVectors(read, rx, ry, rz);
    const Lanes dx = x - rx;
    const Lanes dy = y - ry;
    const Lanes dz = z - rz;
    return dx * dx + dy * dy + dz * dz;
}

float squareOf(const glm::vec3& truth, const glm::vec3& read) {
    const glm::vec3 off = truth - read;
    return glm::dot(off, off);
}

double sumOf(const Doubles& lanes) {
    return (lanes[0] + lanes[1]) + (lanes[2] + lanes[3]);
}

/// Square of the angle between two unit vectors, from the square of their chord c: angle = 2·asin(c/2), whose
/// square is c²·(1 + c²/12 + c⁴/90 + c⁶/560 + …). The series saves the arcsine where it is exact to single
/// precision, which is nearly everywhere.
constexpr float kNearChord2 = 0.04f;
float squaredAngle(float chord2) {
    if (chord2 > kNearChord2) {
        const float angle = 2.0f * std::asin(std::min(0.5f * std::sqrt(chord2), 1.0f));
        return angle * angle;
    }
    return chord2 * (1.0f + chord2 * (1.0f / 12.0f + chord2 * (1.0f / 90.0f)));
}

} // namespace

PositionsOff comparePositions(std::span<const glm::vec3> truth, std::span<const glm::vec3> read,
                              std::span<float> squares) {
    PositionsOff off;
    if (truth.empty()) {
        return off;
    }
    off.bounds.add(truth);
    off.readBounds.add(read);
    const std::size_t whole = truth.size() / kLanes * kLanes;
    constexpr float kFar = std::numeric_limits<float>::infinity();
    Lanes most = base::lanes(-1.0f);
    Doubles sums{};
    for (std::size_t v = 0; v < whole; v += kLanes) {
        const Lanes own = squaresOf(floatsOf(truth) + 3 * v, floatsOf(read) + 3 * v);
        // What a damaged file decodes to need not be a number: such a vertex is infinitely far off.
        const Lanes square = base::select(own == own, own, base::lanes(kFar));
        most = base::most(square, most);
        sums += __builtin_convertvector(square, Doubles);
        base::storeLanes(squares.data() + v, square);
    }
    float largest = base::largestOf(most);
    double sum = sumOf(sums);
    for (std::size_t v = whole; v < truth.size(); ++v) {
        const float own = squareOf(truth[v], read[v]);
        squares[v] = std::isnan(own) ? kFar : own;
        largest = std::max(largest, squares[v]);
        sum += static_cast<double>(squares[v]);
    }
    off.sumSquares = sum;
    off.max = std::sqrt(largest);
    off.worst =
        static_cast<std::size_t>(std::find(squares.begin(), squares.end(), largest) - squares.begin());
    return off;
}

NormalsOff compareNormals(std::span<const glm::vec3> truth, std::span<const glm::vec3> read) {
    NormalsOff off;
    const std::size_t whole = truth.size() / kLanes * kLanes;
    Lanes most = base::lanes(0.0f);
    Doubles sums{};
    const Lanes zero = base::lanes(0.0f);
    base::IntLanes undefined{};
    for (std::size_t v = 0; v < whole; v += kLanes) {
        Lanes x;
        Lanes y;
        Lanes z;
        base::loadVectors(floatsOf(truth) + 3 * v, x, y, z);
        const base::IntLanes none = x * x + y * y + z * z == zero;
        undefined -= none; // a true lane is −1
        Lanes chord2 = base::select(none, zero, squaresOf(floatsOf(truth) + 3 * v, floatsOf(read) + 3 * v));
        const Lanes near = chord2 * (1.0f + chord2 * (1.0f / 12.0f + chord2 * (1.0f / 90.0f)));
        if (base::largestOf(chord2) > kNearChord2) [[unlikely]] {
            for (int i = 0; i < static_cast<int>(kLanes); ++i) {
                chord2[i] = squaredAngle(chord2[i]);
            }
        } else {
            chord2 = near;
        }
        most = base::most(chord2, most);
        sums += __builtin_convertvector(chord2, Doubles);
    }
    float largest = base::largestOf(most);
    off.sumSquares = sumOf(sums);
    for (int i = 0; i < static_cast<int>(kLanes); ++i) {
        off.undefined += static_cast<std::size_t>(undefined[i]);
    }
    for (std::size_t v = whole; v < truth.size(); ++v) {
        if (truth[v] == glm::vec3(0.0f)) {
            ++off.undefined;
            continue;
        }
        const float square = squaredAngle(squareOf(truth[v], read[v]));
        off.sumSquares += static_cast<double>(square);
        largest = std::max(largest, square);
    }
    off.max = std::sqrt(largest);
    return off;
}

double percentile99(std::span<const std::span<const float>> parts) {
    // Counts by the upper bits of the numbers first (bits of positive floats ascend), then looks into one bin
    // only. As many bins as stay in a processor's nearer cache.
    constexpr int kShift = 16;
    constexpr std::size_t kGrain = std::size_t{1} << 18;
    using Bins = std::array<std::uint32_t, std::size_t{1} << (31 - kShift)>;
    const auto binOf = [](float value) { return std::bit_cast<std::uint32_t>(value) >> kShift; };
    const auto bins = std::make_unique<Bins>();
    bins->fill(0);
    std::mutex joining;
    std::size_t count = 0;
    for (const auto& part : parts) {
        count += part.size();
        base::parallelFor(part.size(), kGrain, [&](std::size_t begin, std::size_t end) {
            const auto own = std::make_unique<Bins>();
            own->fill(0);
            for (const float value : part.subspan(begin, end - begin)) {
                ++(*own)[binOf(value)];
            }
            const std::lock_guard lock(joining);
            std::transform(bins->begin(), bins->end(), own->begin(), bins->begin(), std::plus<>());
        });
    }
    if (count == 0) {
        return 0.0;
    }
    auto rank = static_cast<std::size_t>(std::ceil(0.99 * static_cast<double>(count))) - 1;
    std::uint32_t bin = 0;
    for (; rank >= (*bins)[bin]; ++bin) {
        rank -= (*bins)[bin];
    }
    std::vector<float> inside;
    inside.reserve((*bins)[bin]);
    for (const auto& part : parts) {
        base::parallelFor(part.size(), kGrain, [&](std::size_t begin, std::size_t end) {
            std::vector<float> own;
            const auto of = part.subspan(begin, end - begin);
            std::copy_if(of.begin(), of.end(), std::back_inserter(own),
                         [&](float value) { return binOf(value) == bin; });
            const std::lock_guard lock(joining);
            inside.insert(inside.end(), own.begin(), own.end());
        });
    }
    const auto at = inside.begin() + static_cast<std::ptrdiff_t>(rank);
    std::nth_element(inside.begin(), at, inside.end());
    return static_cast<double>(*at);
}

} // namespace ripple::bake
