// What makes way for a point that the game moves: rows of pushes without a wave.

#include "motion/push_formulas.h"
#include "motion/push_parts.h"
#include "motion/surface.h"

namespace ripple::motion {

namespace {

using Kind = PushKind;
using Unit = FieldUnit;

constexpr double kFarOff = 1e5; // metres
constexpr std::array<Field<Push>, 4> kMover = {{
    {"mover x", "Mover X", Unit::worldMetres, &Push::moverX, -kFarOff, kFarOff, 0.0},
    {"mover y", "Mover Y", Unit::worldMetres, &Push::moverY, -kFarOff, kFarOff, 0.0},
    {"mover z", "Mover Z", Unit::worldMetres, &Push::moverZ, -kFarOff, kFarOff, 0.0},
    {"reach", "Reach", Unit::worldMetres, &Push::reach, 1e-2, 1e4, 1.0},
}};

Push withMover(Kind kind, const Model& model) {
    Push push = ofKind(kind);
    push.moverX = 0.4 * model.size; // close enough to be seen at once
    push.reach = std::max(1.2 * model.size, 1e-2);
    return push;
}

Vec3 moverOf(const BuildContext& at, const Push& push) {
    return compose(at.constant(at.setting("mover x", push.moverX)),
                   at.constant(at.setting("mover y", push.moverY)),
                   at.constant(at.setting("mover z", push.moverZ)));
}

/// 1 at the point, 0 at its reach, with no slope at either.
Number nearness(const BuildContext& at, const Push& push, Number metres) {
    const Setting part = Setting(1.0) / at.setting("reach", push.reach);
    return smooth(1.0f - part * metres);
}

Phrase shoveWords(const Push&) {
    return {"makes way for a moving point", {}};
}

std::vector<Start<Push>> shoveStarts(const Model& model, const mesh::Bounds&) {
    return {startOf(withMover(Kind::shove, model))};
}

std::vector<Offset> makesWay(const BuildContext& at, const VoiceBuild& build, Vec3) {
    const Push& push = build.voice.push;
    const Number scale = at.copyScale();
    const Vec3 seen = at.inObject(moverOf(at, push) - at.copyOrigin()) * (at.constant(1.0) / scale);
    const Vec3 away = at.rest() - seen;
    const Number near = nearness(at, push, root(dot(away, away)) * scale);
    return {{unit(away), amplitude(at, build.voice) * (build.mask * near)}};
}

Phrase asideWords(const Push&) {
    return {"bends away from a moving point", {}};
}

std::vector<Start<Push>> asideStarts(const Model& model, const mesh::Bounds& rest) {
    Push push = withMover(Kind::aside, model);
    push.length = {0.0f, 1.0f, 0.0f};
    push.point = {rest.centre().x, rest.min.y, rest.centre().z};
    push.span = spanOf(model, rest.size().y);
    return {startOf(push)};
}

DeformStep bentAway(const BuildContext& at, const VoiceBuild& build, Vec3 position) {
    const Push& push = build.voice.push;
    // A hair's breadth beside the point: right on it there is no way to bend.
    const Vec3 off = at.copyOrigin() - moverOf(at, push) + at.constant(glm::vec3(1e-5f, 0.0f, 0.0f));
    const Vec3 level = compose(component(off, 0), at.constant(0.0), component(off, 2));
    const Vec3 hinge = cross(at.constant(glm::vec3(0.0f, 1.0f, 0.0f)), unit(level));
    return bentAbout(at, build, position, at.inObject(hinge), nearness(at, push, root(dot(level, level))));
}

} // namespace

PushRow shoveRow() {
    return {
        {Kind::shove,
         "shove",
         "makes way for a moving point",
         {kMover[0], kMover[1], kMover[2], kMover[3]},
         "Each vertex moves away from a point that the game moves. No wave: the loop holds wherever it is.",
         shoveFormula},
        shoveWords,
        shoveStarts,
        kAmplitude,
        makesWay,
        nullptr,
        true};
}

PushRow asideRow() {
    return {{Kind::aside,
             "aside",
             "bends away from a moving point",
             {point("Pivot", "pivot of the bend"), kBentLength, kSpan, kMover[0], kMover[1], kMover[2],
              kMover[3]},
             "The copy bends away from a point that the game moves, and keeps its lengths.",
             asideFormula},
            asideWords,
            asideStarts,
            kAngle,
            bentAway,
            nullptr,
            true};
}

} // namespace ripple::motion
