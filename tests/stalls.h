#pragma once

#include <QElapsedTimer>
#include <QTimer>

#include <atomic>
#include <chrono>
#include <thread>

#include <execinfo.h>
#include <pthread.h>
#include <signal.h>
#include <sys/mman.h>
#include <time.h>
#include <unistd.h>

namespace ripple::tests {

/// Watches the event loop: the longest gap between ticks of a timer on this thread, the longest for which it
/// worked between two of them, and the longest that a thread which does nothing but touch a little fresh
/// memory waits for its own ticks meanwhile. On a busy machine all grow, and what takes a core for a while
/// takes longer: how much longer is measured on that thread, too.
class Stalls {
public:
    Stalls() {
        timer_.setTimerType(Qt::PreciseTimer);
        timer_.setInterval(kTick);
        QObject::connect(&timer_, &QTimer::timeout, &timer_, [this] { tick(); });
        if (qEnvironmentVariableIsSet("RIPPLE_SHOW_STALLS")) { // where the loop is when it is late
            main_ = pthread_self();
            signal(SIGUSR2, [](int) {
                void* frames[64];
                const int count = backtrace(frames, 64);
                const char line[] = "--- the event loop is late at\n";
                if (write(2, line, sizeof line - 1) > 0) {
                    backtrace_symbols_fd(frames, count, 2);
                }
            });
            shows_ = true;
        }
        begin();
        idle_ = std::thread([this] { idle(); });
        timer_.start();
    }
    ~Stalls() {
        stop_ = true;
        idle_.join();
    }
    Stalls(const Stalls&) = delete;
    Stalls& operator=(const Stalls&) = delete;

    /// Forgets what was measured.
    void begin() {
        longest_ = 0;
        idleLongest_ = 0;
        worked_ = 0;
        workedIn_ = 0;
        clock_.restart();
        last_ = clock_.elapsed();
        ownLongest_ = 0;
        ownLast_ = workOfThread();
        ticked_ = 0;
    }
    /// Milliseconds.
    qint64 longest() {
        tick();
        return longest_;
    }
    /// For which this thread itself was at work, whatever else had the cores meanwhile.
    qint64 longestWork() {
        tick();
        return ownLongest_ / 1000000;
    }
    qint64 ofTheMachine() const { return idleLongest_; }
    /// How many times as long as its own work a thread takes here; 1 on a machine that is free.
    double slowness() const {
        return worked_ > 0 ? std::max(1.0, static_cast<double>(workedIn_) / static_cast<double>(worked_))
                           : 1.0;
    }

private:
    static constexpr int kTick = 5; // milliseconds

    void tick() {
        const qint64 now = clock_.elapsed();
        longest_ = std::max(longest_, now - last_);
        last_ = now;
        const qint64 own = workOfThread();
        ownLongest_ = std::max(ownLongest_, own - ownLast_);
        ownLast_ = own;
        ticked_ = 0;
    }
    /// Nanoseconds that the calling thread has had a core.
    static qint64 workOfThread() {
        timespec now{};
        clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
        return static_cast<qint64>(now.tv_sec) * 1000000000 + now.tv_nsec;
    }
    /// As the event loop's own work does: whoever fills large memory meanwhile holds the process's map of it.
    static void touchFreshMemory() {
        constexpr std::size_t kBytes = 1 << 18;
        constexpr std::size_t kPage = 4096;
        void* fresh = mmap(nullptr, kBytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
        if (fresh == MAP_FAILED) {
            return;
        }
        for (std::size_t at = 0; at < kBytes; at += kPage) {
            static_cast<volatile char*>(fresh)[at] = 1;
        }
        munmap(fresh, kBytes);
    }
    void idle() {
        while (!stop_) {
            const auto before = std::chrono::steady_clock::now();
            std::this_thread::sleep_for(std::chrono::milliseconds(kTick));
            touchFreshMemory();
            const auto gap = std::chrono::duration_cast<std::chrono::milliseconds>(
                                 std::chrono::steady_clock::now() - before)
                                 .count();
            idleLongest_ = std::max<qint64>(idleLongest_, gap);
            work();
            constexpr int kLate = 80 / kTick;
            if (shows_ && ++ticked_ % kLate == 0) {
                pthread_kill(main_, SIGUSR2);
            }
        }
    }

    /// A little, now and then.
    void work() {
        constexpr int kTurns = 20;
        if (++turns_ % kTurns != 0) {
            return;
        }
        const auto before = std::chrono::steady_clock::now();
        const qint64 from = workOfThread();
        constexpr qint64 kWork = 2000000; // nanoseconds
        while (workOfThread() - from < kWork) {
        }
        worked_ += workOfThread() - from;
        workedIn_ +=
            std::chrono::duration_cast<std::chrono::nanoseconds>(std::chrono::steady_clock::now() - before)
                .count();
    }

    QTimer timer_;
    QElapsedTimer clock_;
    qint64 last_ = 0;
    qint64 ownLast_ = 0;
    qint64 ownLongest_ = 0;
    qint64 longest_ = 0;
    std::atomic<qint64> idleLongest_{0};
    std::atomic<int> ticked_{0};
    std::atomic<qint64> worked_{0};   ///< nanoseconds of work
    std::atomic<qint64> workedIn_{0}; ///< nanoseconds that it took
    int turns_ = 0;
    std::atomic<bool> stop_{false};
    bool shows_ = false;
    pthread_t main_{};
    std::thread idle_;
};

} // namespace ripple::tests
