#include "base/interruption.h"

#include "base/unfinished.h"

#include <atomic>
#include <chrono>
#include <csignal>
#include <map>
#include <mutex>
#include <thread>

#include <fcntl.h>
#include <poll.h>
#include <unistd.h>

namespace ripple::base {

namespace {

constexpr int kSignals[] = {SIGINT, SIGTERM, SIGHUP};
constexpr std::chrono::milliseconds kPatience(2000);

std::atomic<int> g_signal{0};
int g_pipe[2] = {-1, -1};

/// Never destroyed: the thread below may still look at it while the program ends.
struct Registry {
    std::mutex mutex;
    std::map<std::filesystem::path, std::function<void()>> unfinished;
};
Registry& registry() {
    static auto* const kRegistry = new Registry;
    return *kRegistry;
}

/// Only what a handler may do: the thread does the rest.
void onSignal(int signal) {
    int none = 0;
    g_signal.compare_exchange_strong(none, signal);
    const char byte = 0;
    [[maybe_unused]] const auto written = ::write(g_pipe[1], &byte, 1);
}

bool signalWithin(std::chrono::milliseconds time) {
    pollfd wanted{g_pipe[0], POLLIN, 0};
    char byte = 0;
    return ::poll(&wanted, 1, static_cast<int>(time.count())) == 1 && ::read(g_pipe[0], &byte, 1) == 1;
}

bool anyUnfinished() {
    const std::lock_guard lock(registry().mutex);
    return !registry().unfinished.empty();
}

void tidyUp() {
    {
        const std::lock_guard lock(registry().mutex);
        for (const auto& [path, giveUp] : registry().unfinished) {
            if (giveUp) {
                giveUp();
            }
        }
    }
    constexpr std::chrono::milliseconds kStep(20);
    for (std::chrono::milliseconds waited(0); waited < kPatience && anyUnfinished(); waited += kStep) {
        if (signalWithin(kStep)) {
            break;
        }
    }
    // Held to the end: no writer begins anew behind our back.
    registry().mutex.lock();
    for (int again = 0; again < 3; ++again) {
        for (const auto& [path, giveUp] : registry().unfinished) {
            removeAll(path);
        }
    }
}

} // namespace

void tidyUpOnSignals() {
    if (g_pipe[0] >= 0 || ::pipe2(g_pipe, O_CLOEXEC) != 0) {
        return;
    }
    for (const int signal : kSignals) {
        struct sigaction now = {};
        if (::sigaction(signal, nullptr, &now) == 0 && now.sa_handler != SIG_IGN) {
            struct sigaction ours = {};
            ours.sa_handler = &onSignal;
            ours.sa_flags = SA_RESTART;
            ::sigaction(signal, &ours, nullptr);
        }
    }
    std::thread([] {
        while (!signalWithin(std::chrono::hours(1))) {
        }
        tidyUp();
        endAsInterrupted();
    }).detach();
}

void endAsInterrupted() {
    if (const int signal = g_signal.load()) {
        std::signal(signal, SIG_DFL);
        ::kill(::getpid(), signal);
        ::pause();
    }
}

bool makeUnfinished(const std::filesystem::path& path, const std::function<bool()>& make,
                    std::function<void()> giveUp) {
    const std::lock_guard lock(registry().mutex);
    const bool made = make();
    if (made) {
        registry().unfinished[path] = std::move(giveUp);
    }
    return made;
}

void forgetUnfinished(const std::filesystem::path& path) {
    const std::lock_guard lock(registry().mutex);
    registry().unfinished.erase(path);
}

void whileNothingIsRemoved(const std::function<void()>& step) {
    const std::lock_guard lock(registry().mutex);
    step();
}

} // namespace ripple::base
