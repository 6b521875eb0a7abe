// What the swing of a voice does.

#include "motion/voice_build.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

/// How far along its length a bend or twist has come at `t` metres from the pivot: 0 before it, the span
/// after.
struct Progress {
    Number reached;
    Number beyond; ///< metres past either end
};

Progress progressOf(Number t, double span) {
    const Number reached = between(t, 0.0f, static_cast<float>(span));
    return {reached, t - reached};
}

/// Arcs that a bend is made of: one where the angle grows evenly, else enough for the waves in it.
int arcsOf(const Voice& voice, double span, double wavelength) {
    if (voice.course.kind != CourseKind::direction) {
        return 1;
    }
    const double rough = voice.shape.kind == ShapeKind::noise  ? voice.shape.detail
                         : voice.shape.kind == ShapeKind::sine ? 1.0
                                                               : 1.5;
    return std::clamp(static_cast<int>(std::ceil(8.0 * span / wavelength * rough)), 4, 16);
}

} // namespace

Vec3 bent(const Workplace& at, const VoiceBuild& build, Vec3 position) {
    const Voice& voice = build.voice;
    const glm::vec3 length = glm::normalize(voice.push.length);
    const glm::vec3 given = glm::normalize(voice.push.direction);
    const glm::vec3 hinge = glm::normalize(given - length * glm::dot(given, length));
    const glm::vec3 side = glm::cross(hinge, length);
    const double span = voice.push.span.metres(at.model.size);
    const double wavelength = voice.wavelength.metres(at.model.size);

    const Vec3 q = position - at.constant(voice.push.point);
    const Number sideways = dot(q, at.constant(side));
    const Progress progress = progressOf(dot(q, at.constant(length)), span);
    const Number full = static_cast<float>(voice.degrees / 360.0) * build.mask; // turns, at the span's end
    const bool travels = voice.course.kind == CourseKind::direction;
    const Number still = travels ? full : full * build.shape(build.place);
    const int arcs = arcsOf(voice, span, wavelength);
    const double arc = span / arcs;
    // The angle that the middle line has turned by where arc k begins. It grows from 0 at the pivot.
    const auto angleAt = [&](int k) {
        const double metres = arc * k;
        const auto share = static_cast<float>(metres / span);
        return share * (travels ? full * build.shape(build.placeAt(at.constant(metres))) : still);
    };
    // The middle line is a chain of arcs, each as far as it is reached: whatever the angles are, its length
    // is kept. A chord is the arc's length times sinc of half its angle, at its middle angle.
    Number along = at.constant(0.0);
    Number aside = at.constant(0.0);
    Number end = at.constant(0.0); // the angle where it has come to
    Number before = angleAt(0);
    for (int k = 0; k < arcs; ++k) {
        const Number after = angleAt(k + 1);
        const Number reached =
            between(progress.reached - static_cast<float>(arc * k), 0.0f, static_cast<float>(arc));
        const Number turned = static_cast<float>(1.0 / arc) * ((after - before) * reached);
        const Turn middle = placeOnCircle(before + 0.5f * turned);
        const Number chord = reached * sinc(0.5f * turned);
        along = along + chord * cosine(middle);
        aside = aside + chord * sine(middle);
        end = end + turned;
        before = after;
    }
    const Turn angle = placeOnCircle(end);
    const Number c = cosine(angle);
    const Number s = sine(angle);
    const Number outAlong = along + progress.beyond * c - sideways * s;
    const Number outSide = aside + progress.beyond * s + sideways * c;
    return at.constant(voice.push.point) + at.constant(hinge) * dot(q, at.constant(hinge)) +
           at.constant(length) * outAlong + at.constant(side) * outSide;
}

Vec3 twisted(const Workplace& at, const VoiceBuild& build, Vec3 position) {
    const Voice& voice = build.voice;
    const Vec3 axis = at.constant(glm::normalize(voice.push.direction));
    const double span = voice.push.span.metres(at.model.size);
    const Vec3 q = position - at.constant(voice.push.point);
    const Number t = dot(q, axis);
    const Number share = static_cast<float>(1.0 / span) * progressOf(t, span).reached;
    const Turn angle = placeOnCircle(static_cast<float>(voice.degrees / 360.0) *
                                     (build.mask * share * build.shape(build.place)));
    const Vec3 on = axis * t;
    return at.constant(voice.push.point) + on + (q - on) * cosine(angle) + cross(axis, q) * sine(angle);
}

Vec3 offset(const Workplace& at, const VoiceBuild& build, Vec3 normal) {
    const Voice& voice = build.voice;
    const Push& push = voice.push;
    const auto amplitude = static_cast<float>(voice.amplitude.metres(at.model.size));
    const Number held = amplitude * build.mask;
    const Number size = held * build.shape(build.place);
    switch (push.kind) {
    case PushKind::world:
        return at.inObject(glm::normalize(push.direction)) * (size * (at.constant(1.0) / at.copyScale()));
    case PushKind::normal:
        return normal * size;
    case PushKind::point:
        return unit(at.rest() - at.constant(push.point)) * size;
    case PushKind::orbit: {
        const glm::vec3 way = glm::normalize(push.direction);
        const glm::vec3 steady = std::abs(way.y) > 0.999f ? glm::vec3(1, 0, 0) : glm::vec3(0, 1, 0);
        const glm::vec3 up = glm::normalize(steady - way * glm::dot(way, steady));
        // Back before a crest and forward behind it: crests grow sharp, and move on at their tops.
        const Number along = -(held * build.shape(build.place + 0.25f));
        return at.constant(way) * along + at.constant(up * static_cast<float>(push.rise)) * size;
    }
    default:
        return at.constant(glm::normalize(push.direction)) * size;
    }
}

Vec3 uvShift(const Workplace& at, const VoiceBuild& build) {
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

Number alphaLeft(const Workplace& at, const VoiceBuild& build) {
    // 1 where nothing is eaten; gone where the noise lies below the mask.
    constexpr float kEdge = 0.08f;
    const Number noise = 0.5f * build.shape(build.place) + 0.5f;
    const Number eaten = static_cast<float>(build.voice.amount) * (1.0f + kEdge) * build.mask;
    return between((1.0f / kEdge) * (noise - eaten) + at.constant(1.0), 0.0f, 1.0f);
}

} // namespace ripple::motion
