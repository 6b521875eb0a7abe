#pragma once

#include <cmath>
#include <cstdint>

namespace ripple::demo {

/// A whole number's hash as a float in 0..1 (finaliser of MurmurHash3).
inline float hash01(std::uint32_t x) {
    x ^= x >> 16;
    x *= 0x85EBCA6Bu;
    x ^= x >> 13;
    x *= 0xC2B2AE35u;
    x ^= x >> 16;
    return static_cast<float>(x >> 8) / 16777216.0f;
}

/// Smooth value noise in -1..1 over two coordinates.
inline float noise(float x, float y, std::uint32_t seed) {
    const float fx = std::floor(x);
    const float fy = std::floor(y);
    const auto corner = [&](int dx, int dy) {
        const auto ix = static_cast<std::uint32_t>(static_cast<std::int32_t>(fx) + dx);
        const auto iy = static_cast<std::uint32_t>(static_cast<std::int32_t>(fy) + dy);
        return hash01(ix * 0x9E3779B1u + iy * 0x85EBCA77u + seed * 0xC2B2AE3Du) * 2.0f - 1.0f;
    };
    const auto ease = [](float t) { return t * t * t * (t * (t * 6.0f - 15.0f) + 10.0f); };
    const float u = ease(x - fx);
    const float v = ease(y - fy);
    const float a = corner(0, 0) + (corner(1, 0) - corner(0, 0)) * u;
    const float b = corner(0, 1) + (corner(1, 1) - corner(0, 1)) * u;
    return a + (b - a) * v;
}

} // namespace ripple::demo
