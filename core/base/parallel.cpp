#include "base/parallel.h"

#include <algorithm>

#include <tbb/blocked_range.h>
#include <tbb/global_control.h>
#include <tbb/parallel_for.h>

namespace ripple::base {

void parallelFor(std::size_t count, std::size_t grain,
                 const std::function<void(std::size_t begin, std::size_t end)>& body) {
    const std::size_t step = std::max<std::size_t>(grain, 1);
    if (count <= step) {
        if (count > 0) {
            body(0, count);
        }
        return;
    }
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, step),
                      [&](const tbb::blocked_range<std::size_t>& part) { body(part.begin(), part.end()); });
}

std::size_t threadCount() {
    return tbb::global_control::active_value(tbb::global_control::max_allowed_parallelism);
}

ThreadLimit::ThreadLimit(std::size_t threads)
    : control_(new tbb::global_control(tbb::global_control::max_allowed_parallelism,
                                       std::max<std::size_t>(threads, 1))) {}

ThreadLimit::~ThreadLimit() {
    delete static_cast<tbb::global_control*>(control_);
}

} // namespace ripple::base
