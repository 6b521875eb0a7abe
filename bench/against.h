#pragma once

#include <algorithm>
#include <chrono>
#include <vector>

#include <benchmark/benchmark.h>

namespace ripple::bench {

/// Seconds that work() takes.
template <typename Work>
double seconds(const Work& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
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
