#pragma once

#include "cli/commands.h"

#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace ripple::cli {

/// `ripple rehearse`: what faults on the way into an engine would do to a bundle.
struct RehearseCall {
    std::string bundle;
    std::vector<std::string> faults; ///< all at once; none: each of them alone
    std::string out;                 ///< a folder for the textures as the faults leave them; empty: none
    bool json = false;
};
void addRehearseOptions(CLI::App& app, RehearseCall& call);
/// Throws base::Failure.
Status rehearse(const RehearseCall& call);

} // namespace ripple::cli
