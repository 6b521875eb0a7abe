#pragma once

#include "bundle/manifest.h"

#include <string>
#include <vector>

namespace ripple::bundle {

/// One thing that the importer of a file must do, and why.
struct ImporterDemand {
    std::string demand; ///< "make no mips"
    std::string file;
    std::string why;
};

std::vector<ImporterDemand> importerDemands(const Manifest& manifest);

/// IMPORT.md: each file, each setting that matters, and why.
std::string importNotes(const Manifest& manifest);

} // namespace ripple::bundle
