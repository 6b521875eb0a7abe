#pragma once

#include <algorithm>
#include <chrono>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <string>
#include <vector>

#include <benchmark/benchmark.h>

namespace ripple::bench {

/// Whether benchmarks only show that they run through, once and on little (RIPPLE_BENCH_SMALL is set); their
/// figures mean nothing then.
inline bool small() {
    return std::getenv("RIPPLE_BENCH_SMALL") != nullptr;
}
/// How many of something a benchmark takes.
inline std::size_t sized(std::size_t full, std::size_t little) {
    return small() ? little : full;
}
/// How often a benchmark runs that says so itself.
inline benchmark::IterationCount times(benchmark::IterationCount full) {
    return small() ? 1 : full;
}
/// A folder for files that a benchmark makes, kept for its next run.
inline std::filesystem::path folderOf(const std::string& name) {
    const auto folder =
        std::filesystem::temp_directory_path() / ((small() ? "ripple-bench-small-" : "ripple-bench-") + name);
    std::filesystem::create_directories(folder);
    return folder;
}

/// Seconds that work() takes.
template <typename Work>
double seconds(const Work& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

/// Megabytes of this process: "VmHWM" at its peak, "VmRSS" now.
inline double memory(const std::string& key) {
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);) {
        if (line.rfind(key, 0) == 0) {
            return std::stod(line.substr(key.size() + 1)) / 1024.0;
        }
    }
    return 0.0;
}

/// Runs `ours` and `baseline` by turns, so that whatever else the machine does falls on both alike. Reports
/// ours as the benchmark's time, and the ratio of the medians as the counter "x_baseline" (ours / baseline).
template <typename Ours, typename Baseline>
void against(benchmark::State& state, const Ours& ours, const Baseline& baseline) {
    ours();
    baseline();
    std::vector<double> a;
    std::vector<double> b;
    for (auto _ : state) {
        a.push_back(seconds(ours));
        b.push_back(seconds(baseline));
        state.SetIterationTime(a.back());
    }
    const auto median = [](std::vector<double>& v) {
        std::nth_element(v.begin(), v.begin() + static_cast<std::ptrdiff_t>(v.size() / 2), v.end());
        return v[v.size() / 2];
    };
    const double base = median(b);
    state.counters["baseline_ms"] = base * 1e3;
    state.counters["x_baseline"] = median(a) / base;
}

} // namespace ripple::bench
