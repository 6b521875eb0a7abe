#pragma once

#include "bake/texture_set.h"

#include <optional>
#include <string>

namespace ripple::bake {

class ReadingCode;

/// The test row (Recipe::testRow): below its last block a texture has one row whose texels all hold the same
/// known numbers, by which a client sees that nobody turned, converted or rounded what it samples.

/// The row of a texture; none for those that have no blocks, or where no test row was asked for.
std::optional<std::size_t> testRowOf(const BakeFormat& format, const TextureFormat& texture);

/// What sampling it gives in a channel: 0..1, as the texture's pixels keep it.
float testValue(image::Pixel pixel, std::size_t channel);

/// Fills in the rows of all textures.
void writeTestRows(TextureSet& set);

/// The first texture whose row holds something else; its number, or none.
std::optional<std::size_t> firstWrongTestRow(const TextureSet& set);

/// NAME_reads_right(textures): true if all test rows hold what was written.
void addTestRowCode(ReadingCode& reading);

} // namespace ripple::bake
