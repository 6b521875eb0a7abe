#include "image/texels.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstring>

#include <Imath/half.h>

namespace ripple::image {

namespace {

template <typename T>
T loaded(const std::byte* from) {
    T value;
    std::memcpy(&value, from, sizeof value);
    return value;
}

template <typename T>
void store(T value, std::byte* to) {
    std::memcpy(to, &value, sizeof value);
}

template <typename T>
T rounded(float value, float most) {
    return static_cast<T>(std::lround(std::clamp(std::isnan(value) ? 0.0f : value, 0.0f, 1.0f) * most));
}

} // namespace

float valueAt(const Image& image, std::size_t x, std::size_t y, std::size_t channel) {
    const std::byte* at = image.texel(x, y) + channel * image::bytesPer(image.pixel);
    switch (image.pixel) {
    case Pixel::u8:
        return static_cast<float>(loaded<std::uint8_t>(at)) / 255.0f;
    case Pixel::u16:
        return static_cast<float>(loaded<std::uint16_t>(at)) / 65535.0f;
    case Pixel::half: {
        Imath::half value;
        value.setBits(loaded<std::uint16_t>(at));
        return value;
    }
    case Pixel::float32:
        break;
    }
    return loaded<float>(at);
}

void setValue(Image& image, std::size_t x, std::size_t y, std::size_t channel, float value) {
    std::byte* at = image.texel(x, y) + channel * image::bytesPer(image.pixel);
    switch (image.pixel) {
    case Pixel::u8:
        return store(rounded<std::uint8_t>(value, 255.0f), at);
    case Pixel::u16:
        return store(rounded<std::uint16_t>(value, 65535.0f), at);
    case Pixel::half:
        return store(Imath::half(value).bits(), at);
    case Pixel::float32:
        return store(value, at);
    }
}

float apart(Pixel pixel, float wanted, float kept) {
    constexpr float kLargestHalf = 65504.0f;
    const bool beyond = pixel == Pixel::half && std::abs(wanted) > kLargestHalf && std::isinf(kept);
    return beyond && std::signbit(wanted) == std::signbit(kept) ? 0.0f : std::abs(wanted - kept);
}

} // namespace ripple::image
