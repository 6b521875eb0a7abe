#pragma once

#include "cli/commands.h"

#include <string>

namespace CLI {
class App;
}

namespace ripple::cli {

/// `ripple check`: a bundle against its own manifest, and one of these.
struct CheckCall {
    std::string bundle;
    std::string against;  ///< the source that it was baked from; empty: not compared
    std::string client;   ///< what a client wrote into a copy of the test file
    std::string returned; ///< a folder with its files as an importer wrote them again
    bool json = false;
};
void addCheckOptions(CLI::App& app, CheckCall& call);
/// `trust` and `score`: of the source that it is checked against. Throws base::Failure.
Status check(const CheckCall& call, const source::Trust& trust, const ScoreCall& score);

} // namespace ripple::cli
