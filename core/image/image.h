#pragma once

#include "base/raw_vector.h"

#include <cstddef>
#include <cstdint>
#include <vector>

namespace ripple::image {

enum class Pixel { u8, u16, half, float32 };

constexpr std::size_t bytesPer(Pixel pixel) {
    return pixel == Pixel::u8 ? 1 : pixel == Pixel::float32 ? 4 : 2;
}

/// Pixels in memory: the channels of a pixel lie together, row 0 is the top, rows are packed. Multi-byte
/// values are in the machine's order; files are in their format's own.
struct Image {
    std::size_t width = 0;
    std::size_t height = 0;
    std::size_t channels = 3; ///< 3 or 4
    Pixel pixel = Pixel::u8;
    base::RawVector<std::byte> data; ///< width × height × channels × bytesPer(pixel)

    Image() = default;
    /// Not cleared.
    Image(std::size_t imageWidth, std::size_t imageHeight, std::size_t channelCount, Pixel kind)
        : width(imageWidth),
          height(imageHeight),
          channels(channelCount),
          pixel(kind),
          data(imageWidth * imageHeight * channelCount * bytesPer(kind)) {}

    std::size_t bytesPerTexel() const { return channels * bytesPer(pixel); }
    std::byte* texel(std::size_t x, std::size_t y) { return data.data() + (y * width + x) * bytesPerTexel(); }
    const std::byte* texel(std::size_t x, std::size_t y) const {
        return data.data() + (y * width + x) * bytesPerTexel();
    }
    bool operator==(const Image&) const = default;
};

} // namespace ripple::image
