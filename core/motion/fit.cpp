#include "motion/fit.h"

#include <algorithm>
#include <cmath>

namespace ripple::motion {

Fit fitRate(double hertz, double seconds) {
    Fit fit;
    fit.wanted = hertz;
    const double turns = hertz * seconds;
    // Far beyond what a score may hold; a number that no int holds would be undefined.
    constexpr double kMost = 1e6;
    fit.turns = static_cast<int>(std::round(std::clamp(turns, -kMost, kMost)));
    if (fit.turns == 0 && hertz != 0.0) {
        fit.turns = hertz > 0.0 ? 1 : -1;
    }
    fit.got = fit.turns / seconds;
    return fit;
}

Fit fitSpeed(double metresPerSecond, double wavelength, double seconds) {
    return fitRate(metresPerSecond / wavelength, seconds);
}

LoopLength findLoopLength(const std::vector<double>& rates, double least, double most) {
    const auto measured = [&](double seconds) {
        LoopLength length{seconds, 0.0, 0.0};
        for (const double rate : rates) {
            const double change = std::abs(fitRate(rate, seconds).change());
            length.totalChange += change;
            length.worstChange = std::max(length.worstChange, change);
        }
        return length;
    };
    // With turns n a rate f changes by |n / (f·T) − 1|, which falls to 0 at T = n / f and is monotone on both
    // sides; a sum of such is least where one of them is 0, or where turns jump, or at an end.
    std::vector<double> lengths = {least, most};
    for (const double rate : rates) {
        const double f = std::abs(rate);
        for (double half = std::ceil(2.0 * least * f); half <= 2.0 * most * f; half += 1.0) {
            lengths.push_back(0.5 * half / f);
        }
    }
    std::sort(lengths.begin(), lengths.end());
    LoopLength best = measured(lengths.front());
    constexpr double kBetter = 1e-9;
    for (const double seconds : lengths) {
        const LoopLength length = measured(seconds);
        if (seconds >= least && seconds <= most && length.totalChange < best.totalChange - kBetter) {
            best = length;
        }
    }
    return best;
}

std::vector<double> wishedRates(const Score& score) {
    std::vector<double> rates;
    for (const Voice& voice : score.voices) {
        if (voice.wishedRate != 0.0) {
            rates.push_back(voice.wishedRate);
        }
    }
    return rates;
}

Score withLoopLength(Score score, double seconds) {
    score.loopSeconds = seconds;
    for (Voice& voice : score.voices) {
        if (voice.wishedRate != 0.0) {
            voice.turns = fitRate(voice.wishedRate, seconds).turns;
        }
    }
    return score;
}

} // namespace ripple::motion
