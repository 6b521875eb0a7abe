#pragma once

#include "cli/commands.h"

#include <CLI/CLI.hpp>

namespace ripple::cli {

/// Options of `ripple score` that say what code is to be like. `half`: what half precision may lose, as it is
/// typed; `plainCode`: --code.
void addCodeOptions(CLI::App& score, CodeCall& call, std::string& half, bool& plainCode);
/// Reads what was typed after --half. False, with a line on stderr, if it is no tolerance.
bool takeHalf(const std::string& half, CodeCall& call);

} // namespace ripple::cli
