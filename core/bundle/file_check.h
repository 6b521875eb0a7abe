#pragma once

#include "bundle/check.h"

namespace ripple::bundle {

/// Adds up the files' sizes, and reports those that are no longer what was written.
void checkFiles(const std::filesystem::path& directory, const std::vector<FileEntry>& files,
                CheckReport& report);

} // namespace ripple::bundle
