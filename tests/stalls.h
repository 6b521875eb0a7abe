#pragma once

#include <QElapsedTimer>
#include <QFile>
#include <QTimer>

#include <atomic>
#include <chrono>
#include <thread>

#include <execinfo.h>
#include <pthread.h>
#include <signal.h>
#include <time.h>
#include <unistd.h>

namespace ripple::tests {

/// Watches the event loop: the longest gap between ticks of a timer on this thread, without the time for
/// which the system let this thread wait for a core, and the longest that a thread which does nothing waits
/// for its own ticks meanwhile. On a busy machine all grow, and what takes a core for a while takes longer:
/// how much longer is measured on that thread, too. What the loop loses by itself is what is left.
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
        waited_ = waitedForCore();
        ticked_ = 0;
    }
    /// Milliseconds.
    qint64 longest() {
        tick();
        return longest_;
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
        const qint64 waited = waitedForCore();
        longest_ = std::max(longest_, now - last_ - (waited - waited_));
        last_ = now;
        waited_ = waited;
        ticked_ = 0;
    }
    /// Milliseconds since this thread began; 0 where the system does not say.
    static qint64 waitedForCore() {
        QFile file("/proc/thread-self/schedstat"); // nanoseconds run, nanoseconds waited, turns
        const QList<QByteArray> words =
            file.open(QIODevice::ReadOnly) ? file.readAll().split(' ') : QList<QByteArray>();
        return words.size() > 1 ? words[1].toLongLong() / 1000000 : 0;
    }
    void idle() {
        while (!stop_) {
            const auto before = std::chrono::steady_clock::now();
            std::this_thread::sleep_for(std::chrono::milliseconds(kTick));
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
        const auto ofThread = [] {
            timespec now{};
            clock_gettime(CLOCK_THREAD_CPUTIME_ID, &now);
            return static_cast<qint64>(now.tv_sec) * 1000000000 + now.tv_nsec;
        };
        const auto before = std::chrono::steady_clock::now();
        const qint64 from = ofThread();
        constexpr qint64 kWork = 2000000; // nanoseconds
        while (ofThread() - from < kWork) {
        }
        worked_ += ofThread() - from;
        workedIn_ +=
            std::chrono::duration_cast<std::chrono::nanoseconds>(std::chrono::steady_clock::now() - before)
                .count();
    }

    QTimer timer_;
    QElapsedTimer clock_;
    qint64 last_ = 0;
    qint64 waited_ = 0;
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
