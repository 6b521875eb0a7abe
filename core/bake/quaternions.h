#pragma once

#include "bake/store.h"

#include <glm/vec4.hpp>

namespace ripple::bake {

/// Turns of pieces as four-channel texels of a position store, each component in −1..1. A range store's
/// steps then are 2/65535: turns are off by at most 0.0035°. `planes` hold count × 4 × bytesPer(pixel) bytes.
void encodeQuaternions(const PositionStore& store, std::span<const glm::vec4> turns,
                       std::byte* const* planes);
/// Any numbers: stores with a range hold −1..1. `planes` as above; not renormalised.
void encodeFours(const PositionStore& store, std::span<const glm::vec4> values, std::byte* const* planes);
void decodeFours(const PositionStore& store, const std::byte* const* planes, std::span<glm::vec4> values);
/// Renormalised.
void decodeQuaternions(const PositionStore& store, const std::byte* const* planes,
                       std::span<glm::vec4> turns);

} // namespace ripple::bake
