#pragma once

#include "bake/texture_set.h"
#include "image/image.h"

#include <cstddef>
#include <span>
#include <string>

namespace ripple::bundle {

/// What importers and loaders do to textures that nobody told them to leave alone.
enum class TextureDamage {
    srgbApplied,       ///< linear values were encoded with the curve of sRGB
    srgbRemoved,       ///< values were taken for sRGB, and decoded
    rowsFlipped,       ///< the last row is first
    columnsFlipped,    ///< the last column is first
    channelsSwapped,   ///< red and blue
    premultiplied,     ///< colours times alpha
    eightBits,         ///< rounded to 1/255
    halfSize,          ///< the mean of 2 × 2 texels, as of a mip map
    blockCompressed,   ///< 4 × 4 blocks of four colours on a line
    firstFrameMissing, ///< its rows are gone from the top
    lastFrameMissing,  ///< its rows are gone from the bottom
};

struct DamageWords {
    TextureDamage damage;
    const char* id;         ///< stable, for programs
    const char* what;       ///< in words
    const char* sign;       ///< how to recognise it
    const char* prevention; ///< the setting that keeps it from happening
};

std::span<const DamageWords> textureDamages();
/// The words with a bundle's own names of the code in place of the general ones: NAME_… becomes
/// `identifier`_….
std::string withNames(const std::string& words, const std::string& identifier);
const DamageWords& wordsOf(TextureDamage damage);

/// Rows of one of a bundle's textures that belong to one frame, 1 or more.
std::size_t rowsPerFrame(const bake::TextureSet& set, std::size_t texture);

/// The image as it is after that. `rowsPerFrame` ≥ 1; an image of no more rows keeps its frame.
image::Image damagedBy(TextureDamage damage, const image::Image& image, std::size_t rowsPerFrame);

/// Whether blocks of 4 × 4 texels hold at most four colours nearly everywhere, where the original's do not.
bool looksCompressed(const image::Image& given, const image::Image& original);

/// What code that reads by UVs, with nearest filtering, finds in `given` where it expects an image like
/// `expected`: every texel of that size, from the place of its centre; channels that are missing read 1.
image::Image asSampled(const image::Image& given, const image::Image& expected);

} // namespace ripple::bundle
