#pragma once

#include "cli/commands.h"
#include "scatter/placement.h"

#include <string>

namespace CLI {
class App;
}

namespace ripple::cli {

/// `ripple scatter`: copies of a bundle as one GLB.
struct ScatterCall {
    std::string bundle;
    std::string out;
    scatter::Placement placement;
    scatter::Differences differences;
    std::string size = "10"; ///< "12", "12x8" or "12x3x8"
    std::string ground = "flat";
    std::vector<std::string> clips; ///< "stroll=3"
    std::string merge;              ///< a row of scatter::keepsRows(); empty: instances
    bool code = false;              ///< the functions that tell copies apart are written beside it
};
void addScatterOptions(CLI::App& app, ScatterCall& call);
/// Throws base::Failure.
Status scatterBundle(ScatterCall call);

} // namespace ripple::cli
