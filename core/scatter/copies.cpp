#include "scatter/copies.h"

#include "motion/noise.h"

namespace ripple::scatter {

float hashed(std::uint32_t seed, std::uint32_t index, Purpose purpose, std::uint32_t part) {
    const std::uint32_t hash = motion::latticeHash(index, static_cast<std::uint32_t>(purpose), part, seed);
    return static_cast<float>(hash >> 8) * (1.0f / 16777216.0f);
}

std::vector<float> clipLimits(std::span<const float> weights) {
    double sum = 0.0;
    for (const float weight : weights) {
        sum += static_cast<double>(weight);
    }
    if (!(sum > 0.0)) {
        return {1.0f};
    }
    std::vector<float> limits;
    double reached = 0.0;
    for (const float weight : weights) {
        reached += static_cast<double>(weight);
        limits.push_back(static_cast<float>(reached / sum));
    }
    limits.back() = 1.0f; // whatever rounding left
    return limits;
}

Difference differenceOf(const Differences& differences, std::uint32_t index) {
    const auto of = [&](Purpose purpose) { return hashed(differences.seed, index, purpose); };
    Difference own;
    const std::vector<float> limits = clipLimits(differences.clipWeights);
    const float chosen = of(Purpose::clip);
    while (own.clip + 1 < static_cast<int>(limits.size()) &&
           chosen >= limits[static_cast<std::size_t>(own.clip)]) {
        ++own.clip;
    }
    own.start = differences.startSpread * of(Purpose::start);
    own.rate = 1.0f + differences.rateSpread * (2.0f * of(Purpose::rate) - 1.0f);
    own.turn = differences.turnSpread * of(Purpose::turn);
    own.size = differences.leastSize + (differences.mostSize - differences.leastSize) * of(Purpose::size);
    own.tint = of(Purpose::tint);
    own.id = of(Purpose::id);
    return own;
}

} // namespace ripple::scatter
