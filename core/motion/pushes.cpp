// What the swing of a voice does: the rows of pushes.

#include "motion/kinds.h"
#include "motion/push_parts.h"
#include "motion/push_formulas.h"
#include "base/problem.h"
#include "motion/surface.h"
#include "motion/voice_build.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

using Kind = PushKind;
using Unit = FieldUnit;

// How far a push goes

constexpr Field<Voice> kUvAmplitude{"amplitude", "Amplitude", Unit::uvLength, &Voice::amplitude,
                                    -kFurthest,  kFurthest,   0.05,           "of the UV range"};
constexpr Field<Voice> kAmount{"amount", "Alpha removed", Unit::share, &Voice::amount, 0.0, 1.0, 1.0};

// Where it goes

constexpr Field<Push> direction(const char* label, const char* handle = "", const char* caption = "",
                                bool fixed = false) {
    return {"push direction", label, Unit::direction, &Push::direction, 0, 0, 0, "", handle, caption, fixed};
}
constexpr Field<Push> kHinge{"hinge", "Hinge axis", Unit::direction, &Push::direction, 0,   0,
                             0,       "",           "hinge",         "hinge axis",     true};
constexpr Field<Push> kRise{"rise", "Height of circles", Unit::share, &Push::rise, 0.0, 10.0,
                            1.0,    "of their width"};

std::vector<Start<Push>> startAlong(Kind kind, std::initializer_list<std::size_t> axes) {
    std::vector<Start<Push>> starts;
    for (const std::size_t axis : axes) {
        starts.push_back(startOf(ofKind(kind, unitAxis(axis))));
    }
    return starts;
}

// What is added to the surface

Number swing(const BuildContext& at, const VoiceBuild& build) {
    const Number held = amplitude(at, build.voice) * build.mask;
    return held * build.shape(build.place);
}

Phrase directionWords(const Push& push) {
    constexpr std::array kWords = {"pushes sideways", "pushes up and down", "pushes back and forth",
                                   "pushes in a custom direction"};
    return {kWords[axisOf(push.direction)], {}};
}

std::vector<Start<Push>> directionStarts(const Model&, const mesh::Bounds&) {
    return startAlong(Kind::direction, {0, 1, 2});
}

std::vector<Offset> alongDirection(const BuildContext& at, const VoiceBuild& build, Vec3) {
    return {{at.direction("push direction", build.voice.push.direction), swing(at, build)}};
}

Phrase worldWords(const Push& push) {
    const std::size_t axis = axisOf(push.direction);
    return axis > 2 ? Phrase{"pushes in a custom direction of the world", {}}
                    : Phrase{"pushes along the world's %1", axisLetter(axis)};
}

std::vector<Start<Push>> worldStarts(const Model&, const mesh::Bounds&) {
    return startAlong(Kind::world, {0});
}

std::vector<Offset> alongWorld(const BuildContext& at, const VoiceBuild& build, Vec3) {
    // Metres of the world are fewer of a copy that is larger.
    const Vec3 way = at.inObject(at.worldDirection("push direction", build.voice.push.direction));
    return {{way, swing(at, build) * (at.constant(1.0) / at.copyScale())}};
}

Phrase normalWords(const Push&) {
    return {"pushes along the normal", {}};
}

std::vector<Start<Push>> normalStarts(const Model&, const mesh::Bounds&) {
    return {startOf(ofKind(Kind::normal))};
}

std::vector<Offset> alongNormal(const BuildContext& at, const VoiceBuild& build, Vec3 normal) {
    return {{normal, swing(at, build)}};
}

Phrase pointWords(const Push&) {
    return {"pushes away from a point", {}};
}

std::vector<Start<Push>> pointStarts(const Model&, const mesh::Bounds& rest) {
    Push push = ofKind(Kind::point);
    push.point = rest.centre();
    return {startOf(push)};
}

std::vector<Offset> awayFromPoint(const BuildContext& at, const VoiceBuild& build, Vec3) {
    return {{unit(at.rest() - at.constant(build.voice.push.point)), swing(at, build)}};
}

Phrase orbitWords(const Push&) {
    return {"moves in circles, like water", {}};
}

std::vector<Start<Push>> orbitStarts(const Model&, const mesh::Bounds&) {
    return startAlong(Kind::orbit, {0});
}

std::vector<Offset> inCircles(const BuildContext& at, const VoiceBuild& build, Vec3) {
    const Voice& voice = build.voice;
    const auto [way, up, level] = at.frame("push direction", voice.push.direction);
    const Number held = amplitude(at, voice) * build.mask;
    const Number size = held * build.shape(build.place);
    // Back before a crest and forward behind it: crests grow sharp, and move on at their tops.
    const Number later =
        voice.shape.kind == ShapeKind::sine ? cosine(build.place) : build.shape(build.place + 0.25f);
    return {{way, -(held * later)}, {up, at.setting("rise", voice.push.rise) * size}};
}

// Bends and twists: what they do is in turns.cpp. They start at the foot and take the height, unless the
// hinge lies along it.

Phrase aboutAxis(const Push& push, const char* words, const char* custom) {
    const std::size_t axis = axisOf(push.direction);
    return axis > 2 ? Phrase{custom, {}} : Phrase{words, axisLetter(axis)};
}

Phrase bendWords(const Push& push) {
    return aboutAxis(push, "bends about %1", "bends about a custom axis");
}

std::vector<Start<Push>> bendStarts(const Model& model, const mesh::Bounds& rest) {
    std::vector<Start<Push>> starts;
    for (const std::size_t axis : {0, 1, 2}) {
        Push push = ofKind(Kind::bend, unitAxis(axis));
        if (axis == 1) {
            push.length = {0.0f, 0.0f, -1.0f};
            push.point = {rest.centre().x, rest.centre().y, rest.max.z};
        } else {
            push.length = {0.0f, 1.0f, 0.0f};
            push.point = {rest.centre().x, rest.min.y, rest.centre().z};
        }
        push.span = spanOf(model, axis == 1 ? rest.size().z : rest.size().y);
        starts.push_back(startOf(push));
    }
    return starts;
}

void checkBend(const std::string& where, const Push& push) {
    const glm::vec3 across = glm::cross(glm::normalize(push.direction), glm::normalize(push.length));
    if (glm::length(across) < 1e-3f) {
        base::fail(where + ", hinge", "runs along the length that it is to bend", "turn the hinge across it");
    }
}

Phrase twistWords(const Push& push) {
    return aboutAxis(push, "twists about %1", "twists about a custom axis");
}

std::vector<Start<Push>> twistStarts(const Model& model, const mesh::Bounds& rest) {
    Push push = ofKind(Kind::twist, unitAxis(1));
    push.point = {rest.centre().x, rest.min.y, rest.centre().z};
    push.span = spanOf(model, rest.size().y);
    return {startOf(push)};
}

// The texture and its alpha

Phrase slideWords(const Push&) {
    return {"slides the texture", {}};
}

std::vector<Start<Push>> slideStarts(const Model& model, const mesh::Bounds&) {
    return model.uvSets > 0 ? startAlong(Kind::uvSlide, {0}) : std::vector<Start<Push>>();
}

Vec3 slide(const BuildContext& at, const VoiceBuild& build) {
    const Number shape = build.mask * build.shape(build.place);
    const glm::vec3& given = build.voice.push.direction;
    const glm::vec3 way = glm::normalize(glm::vec3(given.x, given.y, 0.0f) + glm::vec3(1e-20f, 0.0f, 0.0f));
    return at.constant(way) * (at.setting("amplitude", build.voice.amplitude.value) * at.strength() * shape);
}

Phrase rotateWords(const Push&) {
    return {"rotates the texture", {}};
}

std::vector<Start<Push>> rotateStarts(const Model& model, const mesh::Bounds&) {
    if (model.uvSets == 0) {
        return {};
    }
    Push push = ofKind(Kind::uvTurn, unitAxis(0));
    push.point = {0.5f, 0.5f, 0.0f};
    return {startOf(push)};
}

Vec3 rotate(const BuildContext& at, const VoiceBuild& build) {
    const Number shape = build.mask * build.shape(build.place);
    const glm::vec3& centre = build.voice.push.point;
    const Number u = at.uv("push", at.model.baseUvSet, 0) - centre.x;
    const Number v = at.uv("push", at.model.baseUvSet, 1) - centre.y;
    const Turn angle = placeOnCircle(turnsOf(at, build.voice) * shape);
    const Number c = cosine(angle) - 1.0f;
    const Number s = sine(angle);
    return compose(c * u - s * v, s * u + c * v, at.constant(0.0));
}

Phrase cutWords(const Push&) {
    return {"cuts holes into the alpha", {}};
}

std::vector<Start<Push>> cutStarts(const Model&, const mesh::Bounds&) {
    return {startOf(ofKind(Kind::cutOut))};
}

Number alphaLeft(const BuildContext& at, const VoiceBuild& build) {
    // 1 where nothing is eaten; gone where the noise lies below the mask.
    const Number noise = 0.5f * build.shape(build.place) + 0.5f;
    const Setting amount = at.setting("amount", build.voice.amount) * at.strength();
    const Number eaten = amount * (1.0 + static_cast<double>(kCutEdge)) * build.mask;
    return between((1.0f / kCutEdge) * (noise - eaten) + at.constant(1.0), 0.0f, 1.0f);
}

} // namespace

const std::vector<PushRow>& pushKinds() {
    static const std::vector<PushRow> kRows = {
        {{Kind::direction,
          "direction",
          "along a direction",
          {direction("Pushes along", "push", "push direction")},
          "",
          directionFormula},
         directionWords,
         directionStarts,
         kAmplitude,
         alongDirection},
        {{Kind::world,
          "world",
          "along a direction of the world",
          {direction("Pushes along", "push", "push direction")},
          "",
          worldFormula},
         worldWords,
         worldStarts,
         kAmplitude,
         alongWorld},
        {{Kind::normal,
          "normal",
          "along the normal",
          {},
          "Each vertex is pushed along its own normal.",
          normalFormula},
         normalWords,
         normalStarts,
         kAmplitude,
         alongNormal},
        {{Kind::point,
          "point",
          "away from a point",
          {point("Away from", "pushes away from here")},
          "",
          pointFormula},
         pointWords,
         pointStarts,
         kAmplitude,
         awayFromPoint},
        {{Kind::orbit,
          "orbit",
          "in circles, like water",
          {direction("Crests run along", "push", "push direction"), kRise},
          "",
          orbitFormula},
         orbitWords,
         orbitStarts,
         kAmplitude,
         inCircles},
        {{Kind::bend,
          "bend",
          "a bend",
          {point("Pivot", "pivot of the bend"), kHinge, kBentLength, kSpan},
          "",
          bendFormula},
         bendWords,
         bendStarts,
         kAngle,
         bent,
         checkBend},
        {{Kind::twist,
          "twist",
          "a twist",
          {point("Pivot", "start of the twist"), direction("Twist axis", "length", "bends along", true),
           kSpan},
          "",
          twistFormula},
         twistWords,
         twistStarts,
         kAngle,
         twisted},
        {{Kind::uvSlide,
          "uv-slide",
          "slides the texture",
          {{"push direction", "Slides along", Unit::uvDirection, &Push::direction}},
          "",
          slideFormula},
         slideWords,
         slideStarts,
         kUvAmplitude,
         slide},
        {{Kind::uvTurn,
          "uv-turn",
          "rotates the texture",
          {{"push point", "Rotates about", Unit::uvPoint, &Push::point}},
          "",
          rotateFormula},
         rotateWords,
         rotateStarts,
         kAngle,
         rotate},
        {{Kind::cutOut,
          "cut-out",
          "holes into the alpha",
          {},
          "The alpha is lowered where the mask is white.",
          cutFormula},
         cutWords,
         cutStarts,
         kAmount,
         alphaLeft},
        shoveRow(),
        asideRow(),
    };
    return kRows;
}

const PushRow& rowOf(const Push& push) {
    return rowIn(pushKinds(), push.kind);
}

} // namespace ripple::motion
