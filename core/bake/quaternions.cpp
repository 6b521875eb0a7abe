#include "bake/quaternions.h"

#include <array>
#include <cstring>
#include <vector>

#include <glm/geometric.hpp>

namespace ripple::bake {

namespace {

const Range kUnit{glm::vec3(-1.0f), glm::vec3(1.0f)};

/// A store's code works on each component by itself, so four-channel texels go through it as a flat run of
/// numbers, filled up to whole triples.
std::size_t triples(std::size_t turns) {
    return (turns * 4 + 2) / 3;
}

} // namespace

void encodeFours(const PositionStore& store, std::span<const glm::vec4> turns, std::byte* const* planes) {
    std::vector<glm::vec3> flat(triples(turns.size()), glm::vec3(0.0f));
    std::memcpy(static_cast<void*>(flat.data()), turns.data(), turns.size_bytes());
    const std::size_t size = flat.size() * 3 * image::bytesPer(store.pixel);
    std::vector<std::byte> bytes(size * store.planes);
    std::array<std::byte*, kMostPlanes> own{};
    for (std::size_t p = 0; p < store.planes; ++p) {
        own[p] = bytes.data() + p * size;
    }
    store.encode(flat, kUnit, own.data());
    for (std::size_t p = 0; p < store.planes; ++p) {
        std::memcpy(planes[p], own[p], turns.size() * 4 * image::bytesPer(store.pixel));
    }
}

void encodeQuaternions(const PositionStore& store, std::span<const glm::vec4> turns,
                       std::byte* const* planes) {
    encodeFours(store, turns, planes);
}

void decodeFours(const PositionStore& store, const std::byte* const* planes, std::span<glm::vec4> turns) {
    std::vector<glm::vec3> flat(triples(turns.size()));
    const std::size_t size = flat.size() * 3 * image::bytesPer(store.pixel);
    std::vector<std::byte> bytes(size * store.planes);
    std::array<const std::byte*, kMostPlanes> own{};
    for (std::size_t p = 0; p < store.planes; ++p) {
        std::memcpy(bytes.data() + p * size, planes[p], turns.size() * 4 * image::bytesPer(store.pixel));
        own[p] = bytes.data() + p * size;
    }
    store.decode(own.data(), kUnit, flat);
    std::memcpy(static_cast<void*>(turns.data()), flat.data(), turns.size_bytes());
}

void decodeQuaternions(const PositionStore& store, const std::byte* const* planes,
                       std::span<glm::vec4> turns) {
    decodeFours(store, planes, turns);
    for (glm::vec4& q : turns) {
        const float length = glm::length(q);
        q = length > 0.0f ? q / length : glm::vec4(0.0f, 0.0f, 0.0f, 1.0f);
    }
}

} // namespace ripple::bake
