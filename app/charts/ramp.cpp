#include "app/charts/ramp.h"

#include "base/srgb.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/common.hpp>
#include <glm/mat3x3.hpp>
#include <glm/vec3.hpp>

namespace ripple::app {

namespace {

constexpr std::size_t kSteps = 256;

/// Oklab to sRGB (Björn Ottosson, "A perceptual color space for image processing", 2020).
glm::vec3 fromOklab(const glm::dvec3& lab) {
    const double l = std::pow(lab.x + 0.3963377774 * lab.y + 0.2158037573 * lab.z, 3.0);
    const double m = std::pow(lab.x - 0.1055613458 * lab.y - 0.0638541728 * lab.z, 3.0);
    const double s = std::pow(lab.x - 0.0894841775 * lab.y - 1.2914855480 * lab.z, 3.0);
    const glm::dvec3 linear(4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
                            -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
                            -0.0041960863 * l - 0.7034186147 * m + 1.7076147010 * s);
    glm::vec3 out;
    for (int c = 0; c < 3; ++c) {
        out[c] = static_cast<float>(base::toSrgb(std::clamp(linear[c], 0.0, 1.0)));
    }
    return out;
}

std::array<glm::vec3, kSteps> makeRamp() {
    // Lightness evenly from 0.30 to 0.93; hue from blue over sea green to sand.
    constexpr glm::dvec3 kStops[] = {
        {0.30, -0.030, -0.075}, {0.51, -0.085, -0.030}, {0.72, -0.075, 0.060}, {0.93, -0.005, 0.080}};
    std::array<glm::vec3, kSteps> ramp;
    for (std::size_t i = 0; i < kSteps; ++i) {
        const double at = 3.0 * static_cast<double>(i) / (kSteps - 1);
        const auto stop = std::min<std::size_t>(static_cast<std::size_t>(at), 2);
        ramp[i] = fromOklab(glm::mix(kStops[stop], kStops[stop + 1], at - static_cast<double>(stop)));
    }
    return ramp;
}

} // namespace

glm::vec4 rampShade(float value) {
    static const std::array<glm::vec3, kSteps> kRamp = makeRamp();
    const float inside = std::isfinite(value) ? std::clamp(value, 0.0f, 1.0f) : 0.0f;
    return {kRamp[static_cast<std::size_t>(std::lround(inside * (kSteps - 1)))], 1.0f};
}

QColor rampColour(double value) {
    const glm::vec4 c = rampShade(static_cast<float>(value));
    return QColor::fromRgbF(c.r, c.g, c.b);
}

} // namespace ripple::app
