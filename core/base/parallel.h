#pragma once

#include <cstddef>
#include <functional>

namespace ripple::base {

/// Runs body(begin, end) over disjoint parts of [0, count) on the task library's threads. Parts hold at least
/// `grain` elements where count allows. An exception in a body ends the loop and is thrown here.
/// Results must not depend on how the range was cut: write only to what the index owns.
void parallelFor(std::size_t count, std::size_t grain,
                 const std::function<void(std::size_t begin, std::size_t end)>& body);

/// How many threads parallelFor may use at present.
std::size_t threadCount();

/// While one lives, parallelFor uses at most `threads` threads (at least 1).
class ThreadLimit {
public:
    explicit ThreadLimit(std::size_t threads);
    ~ThreadLimit();
    ThreadLimit(const ThreadLimit&) = delete;
    ThreadLimit& operator=(const ThreadLimit&) = delete;

private:
    void* control_;
};

} // namespace ripple::base
