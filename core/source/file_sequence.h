#pragma once

#include "base/problem.h"

#include <filesystem>
#include <string>
#include <vector>

namespace ripple::source {

/// The files of a numbered sequence, in order of their numbers.
struct FileSequence {
    std::string pattern; ///< "awning_####.obj"; the plain name for a single file without a number
    std::vector<std::filesystem::path> files;
    std::vector<long long> numbers; ///< files
    long long step = 1;             ///< the commonest distance of numbers
    base::Findings findings;        ///< gaps, duplicates, paddings, steps
};

/// Finds the sequence that `path` belongs to: a pattern whose '#' stand for digits, or any of its files
/// (which may have gone, as long as others of its kind are there). The last run of digits in the name counts
/// the frames, whatever its padding. Of two files with one number the one padded like most is taken. Throws
/// base::Failure when there is none.
FileSequence findSequence(const std::filesystem::path& path);

/// A sequence of this file alone. Throws base::Failure when it is not there.
FileSequence singleFile(const std::filesystem::path& path);

/// The pattern (or file) that most files of `folder` with one of `extensions` (".obj", …) fit; the first by
/// name of those with equal counts. Throws base::Failure when there is none.
std::filesystem::path sequenceInFolder(const std::filesystem::path& folder,
                                       const std::vector<std::string>& extensions);

} // namespace ripple::source
