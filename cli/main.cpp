#include "base/interruption.h"
#include "cli/commands.h"

#include <csignal>

#include <malloc.h>

int main(int argc, char** argv) {
    using namespace ripple;
    std::signal(SIGXFSZ, SIG_IGN); // a file over the limit is an error we report, not a crash
    std::signal(SIGPIPE, SIG_IGN); // the same for a reader that went away
    base::tidyUpOnSignals();
    // Large buffers go back to the system when they are freed: else a long bake keeps what it read at first.
    ::mallopt(M_MMAP_THRESHOLD, 1 << 20);
    const int status = cli::run(argc, argv);
    base::endAsInterrupted();
    return status;
}
