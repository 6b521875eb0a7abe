#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace ripple::source {

/// The files of a numbered sequence, in order of their numbers.
struct FileSequence {
    std::string pattern; ///< "awning_####.obj"; the plain name for a single file without a number
    std::vector<std::filesystem::path> files;
    std::vector<long long> numbers; ///< files
};

/// Finds the sequence that `path` belongs to: a pattern whose '#' stand for digits, or any of its files. The
/// last run of digits in the name counts the frames. Throws base::Failure when there is none, and for gaps.
FileSequence findSequence(const std::filesystem::path& path);

} // namespace ripple::source
