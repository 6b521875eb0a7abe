#pragma once

#include <cstddef>
#include <filesystem>

namespace ripple::importer {

/// What this program may use up.
struct Limits {
    std::size_t memoryBytes = 0;
    std::size_t seconds = 0; ///< of computing
};

/// From here on this process can't use more than that, can't be looked into, ends with its parent, and where
/// the kernel offers it (Landlock) can do nothing with files but read `file` and what lies in its folder, and
/// nothing with the network. Files that are open stay so.
void confine(const Limits& limits, const std::filesystem::path& file);

} // namespace ripple::importer
