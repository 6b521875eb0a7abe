#include "motion/score.h"

#include "base/problem.h"
#include "base/units.h"

#include <algorithm>
#include <cmath>
#include <set>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

constexpr double kMostTurns = 1000.0;

class Checker {
public:
    explicit Checker(const std::string& voice) : voice_("voice \"" + voice + "\"") {}

    void within(const char* field, double value, double least, double most) const {
        if (!(value >= least && value <= most)) { // also true for what is no number
            base::fail(voice_ + ", " + field, "is " + base::numberText(value),
                       "choose within " + base::numberText(least) + " to " + base::numberText(most));
        }
    }
    void axis(const char* field, const glm::vec3& direction) const {
        finite(field, direction);
        if (!(glm::length(direction) > 1e-6f)) {
            base::fail(voice_ + ", " + field, "is a direction without length",
                       "give it a length along one axis at least");
        }
    }
    void finite(const char* field, const glm::vec3& value) const {
        if (!std::isfinite(value.x + value.y + value.z)) {
            base::fail(voice_ + ", " + field, "holds what is no number", "give it numbers");
        }
    }
    void length(const char* field, const Length& length, bool aboveZero) const {
        constexpr double kFar = 1e6; // metres
        if (!std::isfinite(length.value) || std::abs(length.value) > kFar) {
            base::fail(voice_ + ", " + field, "is " + base::numberText(length.value),
                       "give it a length in metres or percent");
        }
        if (aboveZero && !(length.value > 0.0)) {
            base::fail(voice_ + ", " + field, "is " + base::numberText(length.value),
                       "give it a length above 0; for no wave let it run in unison");
        }
    }
    [[noreturn]] void wrong(const char* field, const std::string& what, const std::string& fix) const {
        base::fail(voice_ + ", " + field, what, fix);
    }

private:
    std::string voice_;
};

void checkShape(const Checker& check, const Shape& shape) {
    switch (shape.kind) {
    case ShapeKind::pulse:
        check.within("duty", shape.duty, 0.05, 0.95);
        check.within("softness", shape.softness, 0.01, std::min(shape.duty, 1.0 - shape.duty));
        break;
    case ShapeKind::crested:
        check.within("sharpness", shape.sharpness, 1, 8);
        break;
    case ShapeKind::noise:
        check.within("detail", shape.detail, 1, 64);
        break;
    case ShapeKind::curve:
        check.within("points of the curve", static_cast<double>(shape.curve.size()), 3, 32);
        for (const float value : shape.curve) {
            check.within("curve", static_cast<double>(value), -1.0, 1.0);
        }
        break;
    case ShapeKind::sine:
    case ShapeKind::triangle:
        break;
    }
}

void checkPush(const Checker& check, const Voice& voice) {
    const Push& push = voice.push;
    check.finite("point", push.point);
    if (push.kind != PushKind::normal && push.kind != PushKind::point && push.kind != PushKind::uvTurn &&
        push.kind != PushKind::cutOut) {
        check.axis(push.kind == PushKind::bend ? "hinge" : "push direction", push.direction);
    }
    if (push.kind == PushKind::bend) {
        check.axis("bent length", push.length);
        const glm::vec3 across = glm::cross(glm::normalize(push.direction), glm::normalize(push.length));
        if (glm::length(across) < 1e-3f) {
            check.wrong("hinge", "runs along the length that it is to bend", "turn the hinge across it");
        }
    }
    if (push.kind == PushKind::bend || push.kind == PushKind::twist) {
        check.length("span", push.span, true);
    }
    if (push.kind == PushKind::orbit) {
        check.within("rise", push.rise, 0.0, 10.0);
    }
    if (isAngle(push.kind)) {
        check.within("angle", voice.degrees, -3600.0, 3600.0);
    } else if (push.kind == PushKind::cutOut) {
        check.within("amount", voice.amount, 0.0, 1.0);
    } else {
        check.length("amplitude", voice.amplitude, false);
    }
}

void checkMask(const Checker& check, const MaskTerm& term) {
    check.finite("mask point", term.point);
    if (term.kind == MaskKind::planes || term.kind == MaskKind::line) {
        check.axis("mask direction", term.direction);
    }
    check.within("mask low", term.low, -1e6, 1e6);
    check.within("mask high", term.high, -1e6, 1e6);
    check.within("mask floor", term.floor, 0.0, 1.0);
    if (term.kind == MaskKind::colour) {
        check.within("mask channel", term.channel, 0, 3);
    }
    if (term.kind == MaskKind::uv) {
        check.within("mask UV axis", term.uvAxis, 0, 1);
    }
}

void checkVoice(const Voice& voice) {
    const Checker check(voice.name);
    check.within("turns", voice.turns, -kMostTurns, kMostTurns);
    check.within("wished rate", voice.wishedRate, -kMostTurns, kMostTurns);
    check.within("phase", voice.phase, -1e4, 1e4);
    const Course& course = voice.course;
    check.finite("course point", course.point);
    if (course.kind == CourseKind::direction || course.kind == CourseKind::world ||
        course.kind == CourseKind::line) {
        check.axis("course", course.direction);
    }
    if (course.kind == CourseKind::uv) {
        check.within("course UV axis", course.uvAxis, 0, 1);
    }
    if (course.kind != CourseKind::unison) {
        check.length("wavelength", voice.wavelength, true);
    }
    checkShape(check, voice.shape);
    checkPush(check, voice);
    for (const MaskTerm& term : voice.heldBy) {
        checkMask(check, term);
    }
    if (voice.copyPhase.kind == PhaseKind::world) {
        check.axis("phase direction", voice.copyPhase.direction);
        check.within("phase wavelength", voice.copyPhase.wavelength, 1e-3, 1e6);
    }
    check.within("phase per copy", voice.copyPhase.turns, -1e4, 1e4);
}

} // namespace

bool moves(PushKind kind) {
    return kind != PushKind::uvSlide && kind != PushKind::uvTurn && kind != PushKind::cutOut;
}

bool isAngle(PushKind kind) {
    return kind == PushKind::bend || kind == PushKind::twist || kind == PushKind::uvTurn;
}

bool isHeard(const Score& score, const Voice& voice) {
    const bool anySolo =
        std::any_of(score.voices.begin(), score.voices.end(), [](const Voice& v) { return v.solo; });
    return anySolo ? voice.solo : !voice.muted;
}

void giveIds(Score& score) {
    unsigned most = 0;
    for (const Voice& voice : score.voices) {
        most = std::max(most, voice.id);
    }
    std::set<unsigned> taken{0};
    for (Voice& voice : score.voices) {
        if (!taken.insert(voice.id).second) {
            voice.id = ++most;
            taken.insert(voice.id);
        }
    }
}

const std::vector<KindRow<CourseKind>>& courseKinds() {
    static const std::vector<KindRow<CourseKind>> kRows = {
        {CourseKind::unison, "unison", "nothing: all at once"},
        {CourseKind::direction, "direction", "a direction of the model"},
        {CourseKind::world, "world", "a direction of the world"},
        {CourseKind::uv, "uv", "U or V"},
        {CourseKind::point, "point", "the distance from a point"},
        {CourseKind::line, "line", "the distance from a line"},
    };
    return kRows;
}

const std::vector<KindRow<ShapeKind>>& shapeKinds() {
    static const std::vector<KindRow<ShapeKind>> kRows = {
        {ShapeKind::sine, "sine", "a sine"},    {ShapeKind::triangle, "triangle", "a triangle wave"},
        {ShapeKind::pulse, "pulse", "a pulse"}, {ShapeKind::crested, "crested", "a crested wave"},
        {ShapeKind::noise, "noise", "noise"},   {ShapeKind::curve, "curve", "a drawn curve"},
    };
    return kRows;
}

const std::vector<KindRow<PushKind>>& pushKinds() {
    static const std::vector<KindRow<PushKind>> kRows = {
        {PushKind::direction, "direction", "along a direction"},
        {PushKind::world, "world", "along a direction of the world"},
        {PushKind::normal, "normal", "along the normal"},
        {PushKind::point, "point", "away from a point"},
        {PushKind::orbit, "orbit", "in circles, like water"},
        {PushKind::bend, "bend", "a bend"},
        {PushKind::twist, "twist", "a twist"},
        {PushKind::uvSlide, "uv-slide", "slides the texture"},
        {PushKind::uvTurn, "uv-turn", "rotates the texture"},
        {PushKind::cutOut, "cut-out", "holes into the alpha"},
    };
    return kRows;
}

const std::vector<KindRow<MaskKind>>& maskKinds() {
    static const std::vector<KindRow<MaskKind>> kRows = {
        {MaskKind::planes, "planes", "two planes"},          {MaskKind::uv, "uv", "U or V"},
        {MaskKind::point, "point", "distance from a point"}, {MaskKind::line, "line", "distance from a line"},
        {MaskKind::colour, "colour", "vertex colour"},       {MaskKind::stored, "stored", "stored value"},
    };
    return kRows;
}

const std::vector<KindRow<Easing>>& easings() {
    static const std::vector<KindRow<Easing>> kRows = {
        {Easing::linear, "linear", "linear"},
        {Easing::smooth, "smooth", "smooth"},
        {Easing::late, "late", "late"},
        {Easing::early, "early", "early"},
    };
    return kRows;
}

const std::vector<KindRow<PhaseKind>>& phaseKinds() {
    static const std::vector<KindRow<PhaseKind>> kRows = {
        {PhaseKind::none, "none", "in unison"},
        {PhaseKind::id, "id", "by the copy's number"},
        {PhaseKind::world, "world", "by where the copy stands"},
        {PhaseKind::stored, "stored", "by a stored value"},
    };
    return kRows;
}

void requireSound(const Score& score) {
    constexpr std::size_t kMostVoices = 256;
    if (!(score.loopSeconds > 0.0) || score.loopSeconds > 3600.0) {
        base::fail("loop length", "is " + base::numberText(score.loopSeconds) + " s",
                   "choose above 0 and up to 3600 s");
    }
    if (score.voices.size() > kMostVoices) {
        base::fail("score", "has " + base::plural(score.voices.size(), "voice"),
                   "keep to " + base::countText(kMostVoices));
    }
    for (const Voice& voice : score.voices) {
        checkVoice(voice);
    }
}

int wholeTurns(double turns, const std::string& where) {
    const double whole = std::round(turns);
    if (!std::isfinite(turns) || std::abs(whole) > kMostTurns) {
        base::fail(where, "is no number of turns", "give it a whole number up to 1000");
    }
    if (std::abs(turns - whole) > 1e-9) {
        base::fail(where, base::numberText(turns) + " turns in a loop do not close",
                   base::numberText(std::floor(turns)) + " or " + base::numberText(std::ceil(turns)) + " do");
    }
    return static_cast<int>(whole);
}

} // namespace ripple::motion
