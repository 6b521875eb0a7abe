#pragma once

#include "source/file_sequence.h"

#include <cstddef>
#include <cstdint>
#include <functional>
#include <span>
#include <string>

namespace ripple::source {

/// What to do about frames that differ in more than positions.
constexpr const char* kSameMesh =
    "every frame needs the same mesh; export the sequence with a fixed topology";

/// "awning_0012.obj (frame 12)"
std::string frameName(const FileSequence& sequence, std::size_t frame);

/// Throws base::Failure with `where` unless a frame's faces are those of the first: as many, with as many
/// corners each (`start`: faces + 1), and sameCorner(c) for each corner.
void requireSameFaces(std::span<const std::uint32_t> firstStart, std::span<const std::uint32_t> start,
                      const std::function<bool(std::size_t corner)>& sameCorner, const std::string& where);

/// Throws base::Failure with `where` unless the counts are the same.
void requireSameCount(std::size_t first, std::size_t count, const std::string& where);

} // namespace ripple::source
