#pragma once

#include <cstddef>
#include <cstdint>
#include <cstring>

#if defined(__SSE__)
#include <xmmintrin.h>
#endif

namespace ripple::base {

// Four numbers that are computed with at once: the vector extension that g++ and clang++ share. Loops that
// compilers would not turn into vector code by themselves (selections become branches) are written with
// these.

using Lanes = float __attribute__((vector_size(16)));
using IntLanes = std::int32_t __attribute__((vector_size(16)));
using UintLanes = std::uint32_t __attribute__((vector_size(16)));
constexpr std::size_t kLanes = 4;

inline Lanes lanes(float value) {
    return Lanes{value, value, value, value};
}
inline Lanes loadLanes(const float* from) {
    Lanes value;
    std::memcpy(&value, from, sizeof value);
    return value;
}
inline void storeLanes(float* to, const Lanes& value) {
    std::memcpy(to, &value, sizeof value);
}

/// Where `which` (a comparison's result) is true, `a`, else `b`.
inline Lanes select(const IntLanes& which, const Lanes& a, const Lanes& b) {
    return reinterpret_cast<Lanes>((which & reinterpret_cast<IntLanes>(a)) |
                                   (~which & reinterpret_cast<IntLanes>(b)));
}
inline Lanes absolute(const Lanes& a) {
    return reinterpret_cast<Lanes>(reinterpret_cast<IntLanes>(a) & 0x7FFFFFFF);
}
/// a < b ? a : b, so b where either is not a number; most() likewise. One instruction where there is one.
inline Lanes least(const Lanes& a, const Lanes& b) {
#if defined(__SSE__)
    return _mm_min_ps(a, b);
#else
    return select(a < b, a, b);
#endif
}
inline Lanes most(const Lanes& a, const Lanes& b) {
#if defined(__SSE__)
    return _mm_max_ps(a, b);
#else
    return select(a > b, a, b);
#endif
}
/// Of numbers not below 0.
inline Lanes squareRoot(const Lanes& a) {
#if defined(__SSE__)
    return _mm_sqrt_ps(a);
#else
    return Lanes{__builtin_sqrtf(a[0]), __builtin_sqrtf(a[1]), __builtin_sqrtf(a[2]), __builtin_sqrtf(a[3])};
#endif
}
/// x, y and z of four vectors that lie one behind the other.
inline void loadVectors(const float* from, Lanes& x, Lanes& y, Lanes& z) {
    const Lanes a = loadLanes(from);                            // x0 y0 z0 x1
    const Lanes b = loadLanes(from + 4);                        // y1 z1 x2 y2
    const Lanes c = loadLanes(from + 8);                        // z2 x3 y3 z3
    const Lanes xy = __builtin_shufflevector(b, c, 2, 5, 3, 6); // x2 x3 y2 y3
    const Lanes yz = __builtin_shufflevector(a, b, 1, 4, 2, 5); // y0 y1 z0 z1
    x = __builtin_shufflevector(a, xy, 0, 3, 4, 5);
    y = __builtin_shufflevector(yz, xy, 0, 1, 6, 7);
    z = __builtin_shufflevector(yz, c, 2, 3, 4, 7);
}
inline float largestOf(const Lanes& a) {
    float most = a[0];
    for (int i = 1; i < static_cast<int>(kLanes); ++i) {
        most = a[i] > most ? a[i] : most;
    }
    return most;
}
/// Toward zero; for values that an int holds.
inline Lanes truncated(const Lanes& a) {
    return __builtin_convertvector(__builtin_convertvector(a, IntLanes), Lanes);
}

} // namespace ripple::base
