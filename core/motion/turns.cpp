// Bends and twists: what keeps lengths.

#include "base/progress.h"
#include "motion/kinds.h"
#include "motion/surface.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>
#include <glm/gtc/constants.hpp>

namespace ripple::motion {

namespace {


/// Three directions of unit length, each the cross product of the two before it; the same for all vertices.
struct Frame {
    std::array<Vec3, 3> axes;

    std::array<Number, 3> parts(Vec3 v) const { return {dot(v, axes[0]), dot(v, axes[1]), dot(v, axes[2])}; }
    /// The vector that has these parts.
    Vec3 whole(const BuildContext& at, const std::array<Number, 3>& parts) const {
        if (!liesOnAxes()) {
            return axes[0] * parts[0] + axes[1] * parts[1] + axes[2] * parts[2];
        }
        std::array<Number, 3> sum{at.constant(0.0), at.constant(0.0), at.constant(0.0)};
        for (std::size_t i = 0; i < 3; ++i) {
            const glm::vec3& axis = (*axes[i].graph)[axes[i].id].value;
            for (std::size_t c = 0; c < 3; ++c) {
                sum[c] = sum[c] + axis[static_cast<int>(c)] * parts[i];
            }
        }
        return compose(sum[0], sum[1], sum[2]);
    }

private:
    bool liesOnAxes() const {
        return std::all_of(axes.begin(), axes.end(), [](const Vec3& axis) {
            const Node& node = (*axis.graph)[axis.id];
            return node.op == Op::constant3 &&
                   std::abs(node.value.x) + std::abs(node.value.y) + std::abs(node.value.z) == 1.0f;
        });
    }
};

/// About a hinge that may turn while it plays, in the object's space.
Frame frameAbout(const BuildContext& at, const Push& push, Vec3 hinge) {
    const Vec3 along = at.constant(glm::normalize(push.length));
    const Vec3 across = unit(hinge - along * dot(along, hinge));
    return {{across, along, cross(across, along)}};
}

/// The frame of a bend: its hinge, brought across its length; the length; and what stands on both.
Frame frameOfBend(const BuildContext& at, const Push& push) {
    const glm::vec3 length = glm::normalize(push.length);
    const glm::vec3 given = glm::normalize(push.direction);
    const glm::vec3 hinge = glm::normalize(given - length * glm::dot(given, length));
    constexpr float kUpright = 0.9f; // of the length's height: what leans with the wind
    if (!at.followsWind() || std::abs(length.y) < kUpright) {
        return {{at.constant(hinge), at.constant(length), at.constant(glm::cross(hinge, length))}};
    }
    return frameAbout(at, push, at.inObject(at.turnedWithWind(at.constant(hinge))));
}

/// How far along its length a bend or twist has come at `t` metres from the pivot: 0 before it, the span
/// after.
struct SpanPosition {
    Number reached;
    Number beyond; ///< metres past either end
};

SpanPosition progressOf(Number t, const Setting& span) {
    Graph& graph = *t.graph;
    const Number reached = least(most(t, number(graph, 0.0f)), span.in(graph));
    return {reached, t - reached};
}

/// Arcs that a bend is made of: one where the angle grows evenly, else enough for the waves in it.
int arcsOf(const BuildContext& at, const Voice& voice) {
    if (voice.course.kind != CourseKind::direction) {
        return 1;
    }
    const double span = at.reach("span", voice.push.span.metres(at.model.size))[1];
    const double wavelength = at.reach("wavelength", voice.wavelength.metres(at.model.size))[0];
    const double waves = span / wavelength * rowOf(voice.shape).detail(voice.shape);
    return std::clamp(static_cast<int>(std::ceil(8.0 * waves)), 4, 16);
}

/// Where the middle line of a bend has come to, and the direction it has there.
struct Line {
    Number along;
    Number aside;
    Number c; ///< cosine of the angle it has turned by
    Number s;
};

/// A single arc: its end lies on a chord at half its angle, from which the whole one follows.
Line arcOf(Number reached, Number turned) {
    const Turn middle = placeOnCircle(0.5f * turned);
    const Number chord = reached * sinc(0.5f * turned);
    const Number c = cosine(middle);
    const Number s = sine(middle);
    return {chord * c, chord * s, 1.0f - 2.0f * (s * s), 2.0f * (s * c)};
}

/// A chain of arcs, each as far as it is reached: whatever the angles are, its length is kept. A chord is the
/// arc's length times sinc of half its angle, at its middle angle. `angleAt` gives the turns that the line
/// has turned by so many metres on; it grows from 0 at the pivot.
Line chainOf(int arcs, const Setting& span, Number reached,
             const std::function<Number(const Setting&)>& angleAt) {
    Graph& graph = *reached.graph;
    Number along = number(graph, 0.0f);
    Number aside = along;
    Number end = along;
    const Setting arc = span / static_cast<double>(arcs);
    Number before = angleAt(0.0);
    for (int k = 0; k < arcs; ++k) {
        const Number after = angleAt(arc * (k + 1.0));
        const Number own =
            least(most(reached - arc * static_cast<double>(k), number(graph, 0.0f)), arc.in(graph));
        const Number turned = Setting(1.0) / arc * ((after - before) * own);
        const Turn middle = placeOnCircle(before + 0.5f * turned);
        const Number chord = own * sinc(0.5f * turned);
        along = along + chord * cosine(middle);
        aside = aside + chord * sine(middle);
        end = end + turned;
        before = after;
    }
    return {along, aside, cosine(placeOnCircle(end)), sine(placeOnCircle(end))};
}

/// How a number changes with some that are said, all else standing still; and with what vertices have, those
/// standing still.
struct Partials {
    std::array<Number, 2> by;
    Vec3 rest;
};

Partials partialsOf(const BuildContext& at, Number value, Number first, Number second) {
    Derivation alone(at.graph, Derivation::Vertex::still);
    alone.setDerivative(first, at.constant(glm::vec3(1, 0, 0)));
    alone.setDerivative(second, at.constant(glm::vec3(0, 1, 0)));
    Derivation around = at.derivation();
    around.setDerivative(first, at.constant(glm::vec3(0.0f)));
    around.setDerivative(second, at.constant(glm::vec3(0.0f)));
    const Vec3 by = alone.of(value);
    return {{component(by, 0), component(by, 1)}, around.of(value)};
}

} // namespace

namespace {

/// `full`: turns, at the span's end. `swings`: they are multiplied with the voice's shape.
DeformStep bentIn(const BuildContext& at, const VoiceBuild& build, Vec3 position, const Frame& frame,
                  Number full, bool swings) {
    const Voice& voice = build.voice;
    const Setting span = at.setting("span", voice.push.span);

    const auto [hingeward, t, sideways] = frame.parts(position - at.constant(voice.push.point));
    const SpanPosition progress = progressOf(t, span);
    const bool travels = swings && voice.course.kind == CourseKind::direction;
    const Number still = travels || !swings ? full : full * build.shape(build.place);
    const Line line = travels ? chainOf(arcsOf(at, voice), span, progress.reached,
                                        [&](const Setting& metres) {
                                            const Turn place = build.placeAt(at.constant(metres));
                                            return metres / span * (full * build.shape(place));
                                        })
                              : arcOf(progress.reached, Setting(1.0) / span * (still * progress.reached));
    const Number c = line.c;
    const Number s = line.s;
    const Number outAlong = line.along + progress.beyond * c - sideways * s;
    const Number outSide = line.aside + progress.beyond * s + sideways * c;
    DeformStep turned;
    if (at.graph.isConstant(frame.axes[0].id)) {
        turned.position = frame.whole(at, {hingeward, outAlong, outSide}) + at.constant(voice.push.point);
    } else {
        // A hinge that turns while it plays: by how much a point moves, so that bounds over every heading
        // grow by that only.
        const Number less = c - 1.0f;
        turned.position =
            position +
            frame.axes[1] * (line.along - progress.reached + progress.beyond * less - sideways * s) +
            frame.axes[2] * (line.aside + progress.beyond * s + sideways * less);
    }

    const Vec3 changes = at.derivation().of(still);
    if (!travels && at.isNothing(changes)) {
        // The same angle all over: a rotation, of what is stretched along the length as it lies off the
        // middle line.
        const Setting half = 0.5 * span;
        const Number stretch =
            select(absolute(t - half), at.constant(half),
                   1.0f - Setting(static_cast<double>(glm::two_pi<float>())) / span * (still * sideways), at.constant(1.0));
        turned.tangent = [=](Vec3 tangent, Vec3) {
            const auto [h, l, w] = frame.parts(tangent);
            const Number longer = stretch * l;
            return frame.whole(at, {h, c * longer - s * w, s * longer + c * w});
        };
        turned.normal = [=](Vec3 normal, const auto&) {
            const auto [h, l, w] = frame.parts(normal);
            const Number wider = stretch * w;
            return frame.whole(at, {stretch * h, c * l - s * wider, s * l + c * wider});
        };
        return turned;
    }
    const Partials x = partialsOf(at, outAlong, t, sideways);
    const Partials y = partialsOf(at, outSide, t, sideways);
    // Without what vertices have: a matrix of two by two.
    const auto within = [=](Vec3 tangent) {
        const auto [h, l, w] = frame.parts(tangent);
        return std::array<Number, 3>{h, x.by[0] * l + x.by[1] * w, y.by[0] * l + y.by[1] * w};
    };
    turned.tangent = [=](Vec3 tangent, Vec3 rest) {
        const auto [h, l, w] = within(tangent);
        return frame.whole(at, {h, l + dot(x.rest, rest), w + dot(y.rest, rest)});
    };
    turned.normal = [=](Vec3 normal, const std::function<Vec3(Vec3)>& carry) {
        const auto [h, l, w] = frame.parts(normal);
        const Vec3 plain = frame.whole(at, {(x.by[0] * y.by[1] - x.by[1] * y.by[0]) * h,
                                            y.by[1] * l - y.by[0] * w, x.by[0] * w - x.by[1] * l});
        const Vec3 n = at.restNormal();
        const Vec3 acrossX = frame.whole(at, within(carry(cross(n, x.rest))));
        const Vec3 acrossY = frame.whole(at, within(carry(cross(n, y.rest))));
        return plain + cross(frame.axes[1], acrossX) + cross(frame.axes[2], acrossY) -
               frame.axes[0] * dot(x.rest, cross(n, y.rest));
    };
    return turned;
}

} // namespace

DeformStep bent(const BuildContext& at, const VoiceBuild& build, Vec3 position) {
    return bentIn(at, build, position, frameOfBend(at, build.voice.push),
                  turnsOf(at, build.voice) * build.mask, true);
}

DeformStep bentAbout(const BuildContext& at, const VoiceBuild& build, Vec3 position, Vec3 hinge,
                     Number part) {
    return bentIn(at, build, position, frameAbout(at, build.voice.push, hinge),
                  turnsOf(at, build.voice) * (build.mask * part), false);
}

DeformStep twisted(const BuildContext& at, const VoiceBuild& build, Vec3 position) {
    const Voice& voice = build.voice;
    const glm::vec3 axis = glm::normalize(voice.push.direction);
    const auto across = besides(axis);
    const Frame frame{{at.constant(axis), at.constant(across[0]), at.constant(across[1])}};
    const Setting span = at.setting("span", voice.push.span);
    const auto [t, u, v] = frame.parts(position - at.constant(voice.push.point));
    const Number share = Setting(1.0) / span * progressOf(t, span).reached;
    const Number turns = turnsOf(at, voice) * (build.mask * share * build.shape(build.place));
    const Turn angle = placeOnCircle(turns);
    const Number c = cosine(angle);
    const Number s = sine(angle);
    const Number outU = u * c - v * s;
    const Number outV = u * s + v * c;
    DeformStep turned;
    turned.position = frame.whole(at, {t, outU, outV}) + at.constant(voice.push.point);

    // A rotation, and what lies off the axis moves with the angle as that changes.
    const Partials angles = partialsOf(at, turns, t, u);
    const Number onward = glm::two_pi<float>() * angles.by[0]; // per metre
    const auto rotated = [=](Vec3 vector) {
        const auto [along, a, b] = frame.parts(vector);
        return std::array<Number, 3>{along, a * c - b * s, a * s + b * c};
    };
    turned.tangent = [=](Vec3 tangent, Vec3 rest) {
        const auto [along, a, b] = rotated(tangent);
        const Number more = onward * along + glm::two_pi<float>() * dot(angles.rest, rest);
        return frame.whole(at, {along, a - outV * more, b + outU * more});
    };
    turned.normal = [=](Vec3 normal, const std::function<Vec3(Vec3)>& carry) {
        const auto [along, a, b] = rotated(normal);
        const Vec3 plain = frame.whole(at, {along - onward * (outU * b - outV * a), a, b});
        const Vec3 moving = frame.whole(at, {at.constant(0.0), -outV, outU});
        const auto carried = rotated(carry(cross(at.restNormal(), angles.rest) * glm::two_pi<float>()));
        return plain + cross(moving, frame.whole(at, carried));
    };
    return turned;
}

} // namespace ripple::motion
