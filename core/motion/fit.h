#pragma once

#include "motion/score.h"

#include <vector>

namespace ripple::motion {

/// A rate that a person wants, and the nearest that closes.
struct Fit {
    int turns = 0;       ///< whole, in the loop
    double wanted = 0.0; ///< turns a second
    double got = 0.0;    ///< turns a second: turns / loop
    /// (got − wanted) / wanted; 0 for a rate of 0.
    double change() const { return wanted != 0.0 ? got / wanted - 1.0 : 0.0; }
};

/// The whole turns nearest to `hertz` turns a second in a loop of `seconds`; at least one for a rate that is
/// not 0, or the voice would stand still.
Fit fitRate(double hertz, double seconds);

/// The same for a wave that travels at `metresPerSecond`: speed / wavelength turns a second.
Fit fitSpeed(double metresPerSecond, double wavelength, double seconds);

/// A loop length and what it does to all rates that were asked for.
struct LoopLength {
    double seconds = 0.0;
    double totalChange = 0.0; ///< sum of |change| over the rates
    double worstChange = 0.0;
};

/// The length from `least` to `most` seconds for which the rates (turns a second, none 0) change least in
/// sum; of equally good ones the shortest. Exact: the best length makes one rate fit wholly, or lies at an
/// end.
LoopLength findLoopLength(const std::vector<double>& rates, double least, double most);

/// Rates that voices were asked to have, of those that were asked.
std::vector<double> wishedRates(const Score& score);

/// The score in another loop length: voices that were asked for a rate get the turns nearest to it, others
/// keep theirs.
Score withLoopLength(Score score, double seconds);

} // namespace ripple::motion
