#include "base/progress.h"
#include "cli/commands.h"

#include <cstdio>
#include <memory>
#include <mutex>
#include <string>

#include <unistd.h>

namespace ripple::cli {

base::Progress::Listener progressBar(const char* what) {
    if (!isatty(STDERR_FILENO)) {
        return {};
    }
    struct Bar {
        std::mutex mutex;
        int shown = -1;
    };
    return [what, bar = std::make_shared<Bar>()](double fraction) {
        constexpr int kWidth = 32;
        const std::lock_guard lock(bar->mutex);
        const int percent = static_cast<int>(fraction * 100.0);
        if (percent <= bar->shown) {
            return; // threads report out of order
        }
        bar->shown = percent;
        const auto filled = static_cast<std::size_t>(percent * kWidth / 100);
        const std::string text = std::string(filled, '=') + std::string(kWidth - filled, ' ');
        std::fprintf(stderr, "\r%s [%s] %3d %%%s", what, text.c_str(), percent, percent >= 100 ? "\n" : "");
        std::fflush(stderr);
    };
}

} // namespace ripple::cli
