#pragma once

#include "bake/store.h"

namespace ripple::bake {

/// Joins position texels of three channels with oct16 texels into texels of four, whose alpha holds the
/// normal: unorm16 as 256·x + y of 65535, float32 as that whole number, unorm8x2 x with the high and y with
/// the low bytes. `planes` and `joined` have store.planes pointers; store.holdsNormals() must be true.
void joinAlpha(const PositionStore& store, std::size_t count, const std::byte* const* planes,
               const std::byte* oct, std::byte* const* joined);

/// The way back.
void splitAlpha(const PositionStore& store, std::size_t count, const std::byte* const* joined,
                std::byte* const* planes, std::byte* oct);

} // namespace ripple::bake
