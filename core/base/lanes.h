#pragma once

#include <cstdint>
#include <cstring>

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
inline Lanes least(const Lanes& a, const Lanes& b) {
    return select(a < b, a, b);
}
inline Lanes most(const Lanes& a, const Lanes& b) {
    return select(a > b, a, b);
}
/// Toward zero; for values that an int holds.
inline Lanes truncated(const Lanes& a) {
    return __builtin_convertvector(__builtin_convertvector(a, IntLanes), Lanes);
}

} // namespace ripple::base
