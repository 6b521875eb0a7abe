#pragma once

#include <algorithm>
#include <filesystem>
#include <string>
#include <vector>

namespace ripple::tests {

/// The installed test models, sorted, but for those that are broken on purpose and the largest. MODELS_FOLDER is
/// where they lie.
inline std::vector<std::filesystem::path> modelFiles() {
    std::vector<std::filesystem::path> files;
    for (const auto& entry : std::filesystem::recursive_directory_iterator(MODELS_FOLDER)) {
        const std::string folder = entry.path().parent_path().string();
        if (entry.is_regular_file() && folder.find("/invalid") == std::string::npos &&
            entry.file_size() < 6u * 1024 * 1024) {
            files.push_back(entry.path());
        }
    }
    std::sort(files.begin(), files.end());
    return files;
}

} // namespace ripple::tests
