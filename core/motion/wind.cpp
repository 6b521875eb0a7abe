#include "motion/wind.h"

#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

/// Turned about the vertical as BuildContext::turnedWithWind() does.
glm::vec3 turned(const glm::vec3& direction, double degrees) {
    const double angle = degrees * 3.14159265358979323846 / 180.0;
    const auto c = static_cast<float>(std::cos(angle));
    const auto s = static_cast<float>(std::sin(angle));
    return {c * direction.x + s * direction.z, direction.y, c * direction.z - s * direction.x};
}

std::optional<glm::vec3> level(const glm::vec3& direction) {
    const glm::vec3 flat(direction.x, 0.0f, direction.z);
    const float length = glm::length(flat);
    return length > 1e-6f ? std::optional(flat / length) : std::nullopt;
}

} // namespace

std::optional<glm::vec3> windWay(const Score& score) {
    for (const Voice& voice : score.voices) {
        if (!isHeard(score, voice)) {
            continue;
        }
        std::optional<glm::vec3> way;
        if (voice.copyPhase.kind == PhaseKind::world) {
            way = level(voice.copyPhase.direction);
        } else if (voice.course.kind == CourseKind::world) {
            way = level(voice.course.direction);
        } else if (voice.push.kind == PushKind::world) {
            way = level(voice.push.direction);
        }
        if (way) {
            return turned(*way, score.overall.heading);
        }
    }
    return std::nullopt;
}

std::optional<Gust> gustOf(const Score& score) {
    for (const Voice& voice : score.voices) {
        if (isHeard(score, voice) && voice.copyPhase.kind == PhaseKind::world) {
            return Gust{turned(glm::normalize(voice.copyPhase.direction), score.overall.heading),
                        voice.copyPhase.wavelength, static_cast<double>(voice.turns * score.overall.rate),
                        voice.phase};
        }
    }
    return std::nullopt;
}

} // namespace ripple::motion
