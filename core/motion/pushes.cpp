// What the swing of a voice does.

#include "motion/voice_build.h"

#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::motion {

std::vector<Offset> offsets(const BuildContext& at, const VoiceBuild& build, Vec3 normal) {
    const Voice& voice = build.voice;
    const Push& push = voice.push;
    const auto amplitude = static_cast<float>(voice.amplitude.metres(at.model.size));
    const Number held = amplitude * build.mask;
    const Number size = held * build.shape(build.place);
    switch (push.kind) {
    case PushKind::world:
        return {{at.inObject(glm::normalize(push.direction)), size * (at.constant(1.0) / at.copyScale())}};
    case PushKind::normal:
        return {{normal, size}};
    case PushKind::point:
        return {{unit(at.rest() - at.constant(push.point)), size}};
    case PushKind::orbit: {
        const glm::vec3 way = glm::normalize(push.direction);
        const glm::vec3 steady = std::abs(way.y) > 0.999f ? glm::vec3(1, 0, 0) : glm::vec3(0, 1, 0);
        const glm::vec3 up = glm::normalize(steady - way * glm::dot(way, steady));
        // Back before a crest and forward behind it: crests grow sharp, and move on at their tops.
        const Number later =
            voice.shape.kind == ShapeKind::sine ? cosine(build.place) : build.shape(build.place + 0.25f);
        return {{at.constant(way), -(held * later)}, {at.constant(up), static_cast<float>(push.rise) * size}};
    }
    // clang-format off
    case PushKind::direction: case PushKind::bend: case PushKind::twist: case PushKind::uvSlide:
    case PushKind::uvTurn: case PushKind::cutOut:
        // clang-format on
        break;
    }
    return {{at.constant(glm::normalize(push.direction)), size}};
}

Vec3 uvShift(const BuildContext& at, const VoiceBuild& build) {
    const Voice& voice = build.voice;
    const Push& push = voice.push;
    const Number swing = build.mask * build.shape(build.place);
    if (push.kind == PushKind::uvSlide) {
        const glm::vec3 way = glm::normalize(glm::vec3(push.direction.x, push.direction.y, 0.0f) +
                                             glm::vec3(1e-20f, 0.0f, 0.0f));
        return at.constant(way) * (static_cast<float>(voice.amplitude.value) * swing);
    }
    const Number u = at.uv("push", at.model.baseUvSet, 0) - push.point.x;
    const Number v = at.uv("push", at.model.baseUvSet, 1) - push.point.y;
    const Turn angle = placeOnCircle(static_cast<float>(voice.degrees / 360.0) * swing);
    const Number c = cosine(angle) - 1.0f;
    const Number s = sine(angle);
    return compose(c * u - s * v, s * u + c * v, at.constant(0.0));
}

Number alphaLeft(const BuildContext& at, const VoiceBuild& build) {
    // 1 where nothing is eaten; gone where the noise lies below the mask.
    constexpr float kEdge = 0.08f;
    const Number noise = 0.5f * build.shape(build.place) + 0.5f;
    const Number eaten = static_cast<float>(build.voice.amount) * (1.0f + kEdge) * build.mask;
    return between((1.0f / kEdge) * (noise - eaten) + at.constant(1.0), 0.0f, 1.0f);
}

} // namespace ripple::motion
