#pragma once

#include "bundle/check.h"
#include "bundle/test_vector.h"

namespace ripple::bundle {

/// Adds up the files' sizes, and reports those that are no longer what was written.
void checkFiles(const std::filesystem::path& directory, const std::vector<FileEntry>& files,
                CheckReport& report);

/// Compares a bundle's test file, where the manifest lists one, with what its other files make of it.
/// `size`: the diagonal of the rest bounds, metres.
void checkTestFile(const std::filesystem::path& directory, const ManifestHead& head, const TestVector& own,
                   double size, CheckReport& report);

} // namespace ripple::bundle
