#pragma once

#include <cmath>

namespace ripple::base {

/// The curve of sRGB and its inverse, of one channel (IEC 61966-2-1). Values below 0 follow the straight
/// piece. The stage's shaders print the same.
template <typename T>
T toSrgb(T linear) {
    return linear <= T(0.0031308) ? T(12.92) * linear : T(1.055) * std::pow(linear, T(1.0 / 2.4)) - T(0.055);
}
template <typename T>
T fromSrgb(T encoded) {
    return encoded <= T(0.04045) ? encoded / T(12.92) : std::pow((encoded + T(0.055)) / T(1.055), T(2.4));
}

} // namespace ripple::base
