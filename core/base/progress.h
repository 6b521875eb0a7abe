#pragma once

#include <atomic>
#include <functional>
#include <stdexcept>

namespace ripple::base {

/// Thrown by Progress::checkpoint() after cancel(). Not a problem: the person asked for it.
class Cancelled : public std::runtime_error {
public:
    Cancelled() : std::runtime_error("cancelled") {}
};

/// Progress of long work and the way to stop it. The work calls checkpoint(), from one thread or several;
/// anyone may call cancel() at any time. One Progress serves one piece of work.
class Progress {
public:
    using Listener = std::function<void(double fraction)>;

    Progress() = default;
    /// `listener` is called from the working threads with a fraction in 0..1.
    explicit Progress(Listener listener) : listener_(std::move(listener)) {}

    void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
    bool cancelled() const { return cancelled_.load(std::memory_order_relaxed); }

    /// Throws Cancelled if cancel() was called.
    void checkpoint() const {
        if (cancelled()) {
            throw Cancelled();
        }
    }

    /// Says that `fraction` (0..1) of the current stage is done, then checkpoint().
    void report(double fraction) const {
        checkpoint();
        if (listener_) {
            listener_(from_ + (to_ - from_) * fraction);
        }
    }

    /// The stage that report() speaks of from here on covers from..to of the whole. Call it between parallel
    /// parts, not inside one.
    void stage(double from, double to) {
        from_ = from;
        to_ = to;
        report(0.0);
    }

private:
    Listener listener_;
    std::atomic<bool> cancelled_{false};
    double from_ = 0.0;
    double to_ = 1.0;
};

} // namespace ripple::base
