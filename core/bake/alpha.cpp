#include "bake/alpha.h"

#include <cstdint>
#include <cstring>

namespace ripple::bake {

namespace {

template <typename T>
T wholeOf(const std::byte* oct) {
    return static_cast<T>(std::to_integer<unsigned>(oct[0]) << 8 | std::to_integer<unsigned>(oct[1]));
}

template <typename T>
void join(std::size_t count, const std::byte* plane, const std::byte* oct, std::byte* joined) {
    for (std::size_t i = 0; i < count; ++i) {
        std::memcpy(joined + i * 4 * sizeof(T), plane + i * 3 * sizeof(T), 3 * sizeof(T));
        const T alpha = wholeOf<T>(oct + i * 3);
        std::memcpy(joined + (i * 4 + 3) * sizeof(T), &alpha, sizeof(T));
    }
}

template <typename T>
void split(std::size_t count, const std::byte* joined, std::byte* plane, std::byte* oct) {
    for (std::size_t i = 0; i < count; ++i) {
        std::memcpy(plane + i * 3 * sizeof(T), joined + i * 4 * sizeof(T), 3 * sizeof(T));
        T alpha{};
        std::memcpy(&alpha, joined + (i * 4 + 3) * sizeof(T), sizeof(T));
        // A damaged file may hold any number; what is no 16-bit whole number is cut to one.
        const float number = static_cast<float>(alpha);
        const auto whole = number >= 0.0f && number <= 65535.0f ? static_cast<unsigned>(number) : 0u;
        oct[i * 3] = static_cast<std::byte>(whole >> 8);
        oct[i * 3 + 1] = static_cast<std::byte>(whole & 255);
        oct[i * 3 + 2] = std::byte{0};
    }
}

} // namespace

void joinAlpha(const PositionStore& store, std::size_t count, const std::byte* const* planes,
               const std::byte* oct, std::byte* const* joined) {
    if (store.planes == 2) {
        for (std::size_t p = 0; p < 2; ++p) {
            for (std::size_t i = 0; i < count; ++i) {
                std::memcpy(joined[p] + i * 4, planes[p] + i * 3, 3);
                joined[p][i * 4 + 3] = oct[i * 3 + p];
            }
        }
    } else if (store.pixel == image::Pixel::u16) {
        join<std::uint16_t>(count, planes[0], oct, joined[0]);
    } else {
        join<float>(count, planes[0], oct, joined[0]);
    }
}

void splitAlpha(const PositionStore& store, std::size_t count, const std::byte* const* joined,
                std::byte* const* planes, std::byte* oct) {
    if (store.planes == 2) {
        for (std::size_t p = 0; p < 2; ++p) {
            for (std::size_t i = 0; i < count; ++i) {
                std::memcpy(planes[p] + i * 3, joined[p] + i * 4, 3);
                oct[i * 3 + p] = joined[p][i * 4 + 3];
                oct[i * 3 + 2] = std::byte{0};
            }
        }
    } else if (store.pixel == image::Pixel::u16) {
        split<std::uint16_t>(count, joined[0], planes[0], oct);
    } else {
        split<float>(count, joined[0], planes[0], oct);
    }
}

} // namespace ripple::bake
