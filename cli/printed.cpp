#include "cli/commands.h"

#include <cerrno>
#include <cstdio>
#include <iostream>
#include <system_error>

namespace ripple::cli {

int printed(int status) {
    std::cout.flush();
    if (std::cout && std::fflush(stdout) == 0) {
        return status;
    }
    std::cerr << "ripple: standard output: could not be written whole ("
              << std::generic_category().message(errno) << "); check where it goes to\n";
    return status == kDone ? kBad : status;
}

} // namespace ripple::cli
