#pragma once

#include "image/image.h"

#include <cstddef>

namespace ripple::image {

/// A channel of a texel: 0..1 of whole numbers, the value itself of floats.
float valueAt(const Image& image, std::size_t x, std::size_t y, std::size_t channel);

/// Whole numbers are rounded, and hold 0..1; NaN becomes 0 in them.
void setValue(Image& image, std::size_t x, std::size_t y, std::size_t channel, float value);

/// How far a value that was kept in such pixels is from what was wanted: 0 too for the infinity that half
/// precision has for all that is too large for it.
float apart(Pixel pixel, float wanted, float kept);

} // namespace ripple::image
