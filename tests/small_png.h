#pragma once

#include "image/png.h"

#include <algorithm>
#include <string>

namespace ripple::tests {

/// A whole PNG of 4 × 4 pixels of one shade, with something behind its end, which readers do not look at.
inline std::string smallPng(const std::string& behind = {}, std::uint8_t shade = 90) {
    image::Image picture(4, 4, 3, image::Pixel::u8);
    std::fill(picture.data.begin(), picture.data.end(), std::byte{shade});
    return std::string(base::asText(image::encodePng(picture))) + behind;
}

} // namespace ripple::tests
