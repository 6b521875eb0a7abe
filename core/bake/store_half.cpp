#include "bake/store.h"

#include "code/value.h"

#include <cmath>

#include <glm/common.hpp>
#include <Imath/half.h>

#if defined(__x86_64__)
#include <immintrin.h>
#endif

namespace ripple::bake {

namespace {

using Imath::half;

// Both ways round to nearest, ties to even, so that every machine writes the same bytes.
void encodePlain(const float* from, std::size_t count, half* to) {
    for (std::size_t i = 0; i < count; ++i) {
        to[i] = half(from[i]);
    }
}

void decodePlain(const half* from, std::size_t count, float* to) {
    for (std::size_t i = 0; i < count; ++i) {
        to[i] = static_cast<float>(from[i]);
    }
}

#if defined(__x86_64__)
__attribute__((target("avx,f16c"))) void encodeF16c(const float* from, std::size_t count, half* to) {
    std::size_t i = 0;
    for (; i + 8 <= count; i += 8) {
        const __m128i packed = _mm256_cvtps_ph(_mm256_loadu_ps(from + i), _MM_FROUND_TO_NEAREST_INT);
        _mm_storeu_si128(reinterpret_cast<__m128i*>(to + i), packed);
    }
    encodePlain(from + i, count - i, to + i);
}

__attribute__((target("avx,f16c"))) void decodeF16c(const half* from, std::size_t count, float* to) {
    std::size_t i = 0;
    for (; i + 8 <= count; i += 8) {
        const __m128i packed = _mm_loadu_si128(reinterpret_cast<const __m128i*>(from + i));
        _mm256_storeu_ps(to + i, _mm256_cvtph_ps(packed));
    }
    decodePlain(from + i, count - i, to + i);
}

/// Every processor with AVX2 has F16C; not every compiler can ask for the latter.
bool hasF16c() {
    static const bool has = __builtin_cpu_supports("avx2");
    return has;
}
#endif

void encode(std::span<const glm::vec3> values, const Range&, std::byte* const* planes) {
    const auto* from = reinterpret_cast<const float*>(values.data());
    auto* to = reinterpret_cast<half*>(planes[0]);
#if defined(__x86_64__)
    if (hasF16c()) {
        return encodeF16c(from, values.size() * 3, to);
    }
#endif
    encodePlain(from, values.size() * 3, to);
}

void decode(const std::byte* const* planes, const Range&, std::span<glm::vec3> values) {
    const auto* from = reinterpret_cast<const half*>(planes[0]);
    auto* to = reinterpret_cast<float*>(values.data());
#if defined(__x86_64__)
    if (hasF16c()) {
        return decodeF16c(from, values.size() * 3, to);
    }
#endif
    decodePlain(from, values.size() * 3, to);
}

/// Half a unit in the last of 11 bits, relative; below the normal range half the smallest subnormal.
glm::vec3 errorBound(const Range& range) {
    const glm::vec3 largest = glm::max(glm::abs(range.min), glm::abs(range.max));
    return glm::max(largest * std::ldexp(1.0f, -11), glm::vec3(std::ldexp(1.0f, -25)));
}

} // namespace

const PositionStore kHalfStore = {
    "half",
    "half",
    "Needs no range; precise near zero, so best for small offsets and small models.",
    image::Pixel::half,
    1,
    false,
    65504.0f,
    &encode,
    &decode,
    &errorBound,
    &asSampled,
    nullptr, // 11 bits hold no 16
};

} // namespace ripple::bake
