#pragma once

#include "mesh/bounds.h"

namespace ripple::bake {

/// By `by` metres, and by the rounding of rest + offset and of a blend in single precision.
void widen(mesh::Bounds& bounds, float by);

} // namespace ripple::bake
