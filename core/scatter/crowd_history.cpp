#include "scatter/crowd_history.h"

#include <algorithm>

namespace ripple::scatter {

CrowdHistory::CrowdHistory(Crowd crowd, std::size_t mostBytes)
    : crowd_(std::move(crowd)),
      mostBytes_(mostBytes) {
    // Closer together for many copies: going through so many steps of copies takes some thirty milliseconds.
    constexpr long kAtOnce = 1200000;
    const auto copies = static_cast<long>(crowd_.states().size());
    apart_ = std::clamp(kAtOnce / std::max(copies, 1L), 15L, apart_);
    crowd_.goTo(0.0);
    kept_.push_back(crowd_.moment());
}

void CrowdHistory::goTo(double seconds) {
    const long wanted = Crowd::stepAt(seconds);
    const auto index = static_cast<std::size_t>(wanted / apart_);
    const Crowd::Moment& nearest = kept_[std::min(index, kept_.size() - 1)];
    if (wanted < crowd_.at() || nearest.step > crowd_.at()) {
        crowd_.take(nearest);
    }
    for (long next = kept_.back().step + apart_; next <= wanted; next = kept_.back().step + apart_) {
        crowd_.goTo(static_cast<double>(next) / Crowd::kStepsASecond);
        kept_.push_back(crowd_.moment());
        if (kept_.size() > 1 && kept_.size() * kept_.back().bytes() > mostBytes_) {
            std::vector<Crowd::Moment> fewer;
            for (std::size_t i = 0; i < kept_.size(); i += 2) {
                fewer.push_back(std::move(kept_[i]));
            }
            kept_ = std::move(fewer);
            apart_ *= 2;
        }
    }
    crowd_.goTo(seconds);
}

} // namespace ripple::scatter
