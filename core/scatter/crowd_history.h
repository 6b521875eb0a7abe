#pragma once

#include "scatter/crowd.h"

#include <vector>

namespace ripple::scatter {

/// A crowd that can go back: it keeps how it stood every few seconds and goes on from there, instead of from
/// the beginning. In at most kMostBytes: where they do not hold them all, every other moment is let go, and
/// those to come are twice as far apart.
class CrowdHistory {
public:
    static constexpr std::size_t kMostBytes = std::size_t{256} << 20;

    explicit CrowdHistory(Crowd crowd, std::size_t mostBytes = kMostBytes);

    /// As Crowd::goTo, with the same states.
    void goTo(double seconds);
    const Crowd& crowd() const { return crowd_; }
    /// Steps between moments that are kept: at most so many are gone through when it goes back.
    long stepsApart() const { return apart_; }

private:
    Crowd crowd_;
    std::size_t mostBytes_;
    long apart_ = 2L * Crowd::kStepsASecond;
    std::vector<Crowd::Moment> kept_; ///< one every apart_ steps, from the beginning to the furthest
};

} // namespace ripple::scatter
