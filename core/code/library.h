#pragma once

#include "code/value.h"

namespace ripple::code {

// Functions that are longer than one expression. Each is put into the module when it is called first, and
// gives back the call.

/// `v` at length 1; what has no length stays 0.
Value unit(Module& module, const Value& v);
/// sin(2 π turns), good to 2e-7 on every processor: a polynomial on the turn that is left. Shader languages
/// let a sine of their own be off by up to 5e-4.
Value exactSine(Module& module, const Value& turns);
/// sin(2 π turns) / (2 π turns); `exact`: by that sine.
Value sinc(Module& module, const Value& turns, bool exact = false);
/// vec3 `v` rotated by the unit quaternion `q` (vec4, x y z w).
Value rotated(Module& module, const Value& q, const Value& v);
/// The unit vec3 of an octahedral pair (vec2 in 0..1): Cigolle et al. 2014.
Value unfold(Module& module, const Value& pair);

} // namespace ripple::code
