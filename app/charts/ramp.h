#pragma once

#include <QColor>

#include <glm/vec4.hpp>

namespace ripple::app {

/// The colour of a measured value from 0 (least) to 1 (most): dark blue over sea green to light sand,
/// lightness rising evenly (mixed in Oklab, Ottosson 2020), so that it reads in grey and for the colour-blind
/// too.
QColor rampColour(double value);
/// The same as sRGB numbers in 0..1.
glm::vec4 rampShade(float value);

} // namespace ripple::app
