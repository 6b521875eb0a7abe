#pragma once

#include "image/image.h"

namespace ripple::demo {

/// The heron's base colour, sRGB, laid out by skinRegion().
image::Image paintHeron();

} // namespace ripple::demo
