#pragma once

#include "base/no_progress.h"
#include "motion/perform.h"

namespace ripple::motion {

/// What a host that counts seconds in 32-bit floats loses after so many hours (laws of the loop,
/// docs/motion.md §10).
struct TimeLoss {
    double hours = 0.0;
    double turns = 0.0;  ///< the worst error of the place in the loop: half a step of the float, by the loop
    double metres = 0.0; ///< how far the fastest vertex is off at the worst

    static constexpr double kEnough = 1e-4; ///< metres: what nobody sees
    bool isEnough() const { return metres < kEnough; }
};

/// The worst error of seconds that are held in a float, after `hours`: half the distance between two floats.
double secondsLost(double hours);

/// The largest speed of any vertex in the loop, metres a turn, at 64 instants.
double fastest(const Performance& performance, const base::Progress& progress = base::noProgress());

/// After 1, 8, 24 and 100 hours. `speed`: metres a turn; `loopSeconds` above 0.
std::vector<TimeLoss> timeLosses(double loopSeconds, double speed);

} // namespace ripple::motion
