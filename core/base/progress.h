#pragma once

#include <atomic>
#include <condition_variable>
#include <functional>
#include <mutex>
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
    /// A piece of `whole`, which outlives it, that can be done again: cancelled as soon as `whole` is
    /// cancelled or held.
    static Progress pieceOf(const Progress& whole) { return Progress(&whole); }

    void cancel() {
        {
            const std::lock_guard lock(mutex_);
            cancelled_.store(true, std::memory_order_relaxed);
        }
        changed_.notify_all();
    }
    bool cancelled() const {
        return cancelled_.load(std::memory_order_relaxed) ||
               (whole_ && (whole_->cancelled() || whole_->held()));
    }

    /// Work that nobody waits for makes room for other work: its pieces stop, and it waits before the next.
    void hold(bool held) {
        {
            const std::lock_guard lock(mutex_);
            held_.store(held, std::memory_order_relaxed);
        }
        changed_.notify_all();
    }
    bool held() const { return held_.load(std::memory_order_relaxed); }
    /// Until it is not held any more; throws Cancelled. On the thread that leads the work, never inside a
    /// parallel part: that would keep a thread of the task library from others.
    void waitWhileHeld() const {
        std::unique_lock lock(mutex_);
        changed_.wait(lock, [this] { return !held() || cancelled(); });
        checkpoint();
    }

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
    explicit Progress(const Progress* whole) : whole_(whole) {}

    Listener listener_;
    const Progress* whole_ = nullptr;
    std::atomic<bool> cancelled_{false};
    std::atomic<bool> held_{false};
    mutable std::mutex mutex_;
    mutable std::condition_variable changed_;
    double from_ = 0.0;
    double to_ = 1.0;
};

} // namespace ripple::base
