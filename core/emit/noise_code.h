#pragma once

#include "code/value.h"

#include <cstdint>
#include <span>

namespace ripple::emit {

// Functions that only scores call. Each is put into the module when it is called first, and gives back the
// call: a vec4 with the slopes by the operands in xyz and the value in w.

/// Gradient noise that repeats after `cells`, of one to three scalars; the same as motion/noise.cpp, step by
/// step.
code::Value noise(code::Module& module, std::span<const code::Value> at, const code::Value& cells,
                  std::uint32_t seed);

/// A closed curve through `values`, at `x` in 0..1; as motion/value.h evaluates it. `index` tells curves of
/// one module apart.
code::Value curve(code::Module& module, std::size_t index, std::span<const float> values,
                  const code::Value& x);

} // namespace ripple::emit
