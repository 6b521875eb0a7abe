#pragma once

#include "motion/score.h"

#include <filesystem>
#include <string>

namespace ripple::motion {

/// JSON text of a score (docs/motion.md §8).
std::string scoreText(const Score& score);

/// Throws base::Failure with `where`: damaged, no score, from a newer version, or a value that is not
/// possible, with its voice and key. Keys that are missing have their defaults. The score is sound
/// (requireSound()).
Score parseScore(const std::string& text, const std::string& where);

/// A .score file. Both throw base::Failure.
void saveScore(const Score& score, const std::filesystem::path& file);
Score loadScore(const std::filesystem::path& file);

} // namespace ripple::motion
