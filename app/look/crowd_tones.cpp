#include "app/look/crowd_tones.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/common.hpp>

namespace ripple::app {

namespace {

constexpr std::array kClips = {glm::vec3(0.20f, 0.58f, 0.46f), glm::vec3(0.78f, 0.46f, 0.08f),
                               glm::vec3(0.36f, 0.40f, 0.82f), glm::vec3(0.86f, 0.78f, 0.62f),
                               glm::vec3(0.62f, 0.12f, 0.10f), glm::vec3(0.10f, 0.20f, 0.30f)};
constexpr std::array kLevels = {glm::vec3(0.20f, 0.58f, 0.46f), glm::vec3(0.78f, 0.46f, 0.08f),
                                glm::vec3(0.86f, 0.20f, 0.10f), glm::vec3(0.40f, 0.10f, 0.30f)};

/// About what a screen shows of linear light.
QColor shown(const glm::vec3& tint) {
    return QColor::fromRgbF(std::sqrt(tint.r), std::sqrt(tint.g), std::sqrt(tint.b));
}

} // namespace

glm::vec3 clipTint(std::size_t clip) {
    return kClips[clip % kClips.size()];
}

glm::vec3 levelTint(std::size_t level) {
    return kLevels[std::min(level, kLevels.size() - 1)];
}

glm::vec3 phaseTint(float turn) {
    return glm::mix(glm::vec3(0.04f, 0.10f, 0.16f), glm::vec3(0.90f, 0.84f, 0.62f), turn);
}

QColor clipTone(std::size_t clip) {
    return shown(clipTint(clip));
}

QColor levelTone(std::size_t level) {
    return shown(levelTint(level));
}

QColor phaseTone(float turn) {
    return shown(phaseTint(turn));
}

} // namespace ripple::app
