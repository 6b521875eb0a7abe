#pragma once

#include "bundle/manifest.h"

#include <string>
#include <vector>

namespace ripple::bundle {

/// One setting of an import, for all the files that need it.
struct ImportSetting {
    std::string setting;            ///< "Mipmaps"
    std::string value;              ///< "off"
    std::vector<std::string> files; ///< of the bundle, in its order
    std::string why;                ///< a sentence
};

/// Those that matter for this bundle, textures' first.
std::vector<ImportSetting> importSettings(const Manifest& manifest);

/// IMPORT.md: each file, each setting that matters, and why.
std::string importNotes(const Manifest& manifest);

} // namespace ripple::bundle
