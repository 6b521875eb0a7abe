#include "motion/score.h"

#include "motion/kinds.h"
#include "base/problem.h"
#include "base/units.h"

#include <algorithm>
#include <cmath>
#include <set>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

constexpr double kMostTurns = 1000.0;

template <typename Row, typename Part>
void checkRow(const std::string& where, const Row& row, const Part& part) {
    for (const auto& field : row.fields) {
        requireSound(where, field, part);
    }
}

void checkMask(const std::string& where, const MaskTerm& term) {
    checkRow(where, rowOf(term), term);
    requireWithin(where, "mask low", term.low, -1e6, 1e6);
    requireWithin(where, "mask high", term.high, -1e6, 1e6);
    requireWithin(where, "mask floor", term.floor, 0.0, 1.0);
    requireWithin(where, "mask channel", term.channel, 0, 3);
    requireWithin(where, "mask UV axis", term.uvAxis, 0, 1);
}

void checkVoice(const Voice& voice) {
    const std::string where = "voice \"" + voice.name + "\"";
    for (const Field<Voice>* field : {&turnsField(), &wishedRateField(), &phaseField()}) {
        requireSound(where, *field, voice);
    }
    const CourseRow& course = rowOf(voice.course);
    checkRow(where, course, voice.course);
    requireWithin(where, "course UV axis", voice.course.uvAxis, 0, 1);
    if (course.wavelength) {
        requireSound(where, *course.wavelength, voice);
    }
    const ShapeRow& shape = rowOf(voice.shape);
    checkRow(where, shape, voice.shape);
    if (shape.check) {
        shape.check(where, voice.shape);
    }
    const PushRow& push = rowOf(voice.push);
    checkRow(where, push, voice.push);
    if (push.check) {
        push.check(where, voice.push);
    }
    requireSound(where, push.size, voice);
    for (const MaskTerm& term : voice.heldBy) {
        checkMask(where, term);
    }
    checkRow(where, rowOf(voice.copyPhase), voice.copyPhase);
}

} // namespace

void requireWithin(const std::string& where, const char* field, double value, double least, double most) {
    if (!(value >= least && value <= most)) { // also true for what is no number
        base::fail(where + ", " + field, "is " + base::numberText(value),
                   "choose within " + base::numberText(least) + " to " + base::numberText(most));
    }
}

void requireFinite(const std::string& where, const char* field, const glm::vec3& value) {
    if (!std::isfinite(value.x + value.y + value.z)) {
        base::fail(where + ", " + field, "holds what is no number", "give it numbers");
    }
}

void requireDirection(const std::string& where, const char* field, const glm::vec3& direction) {
    requireFinite(where, field, direction);
    if (!(glm::length(direction) > 1e-6f)) {
        base::fail(where + ", " + field, "is a direction without length",
                   "give it a length along one axis at least");
    }
}

void requireLength(const std::string& where, const char* field, const Length& length, bool aboveZero) {
    constexpr double kFar = 1e6; // metres
    if (!std::isfinite(length.value) || std::abs(length.value) > kFar) {
        base::fail(where + ", " + field, "is " + base::numberText(length.value),
                   "give it a length in metres or percent");
    }
    if (aboveZero && !(length.value > 0.0)) {
        base::fail(where + ", " + field, "is " + base::numberText(length.value),
                   "give it a length above 0; for no wave let it run in unison");
    }
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

const std::vector<EasingRow>& easings() {
    static const std::vector<EasingRow> kRows = {
        {Easing::linear, "linear", "linear"},
        {Easing::smooth, "smooth", "smooth"},
        {Easing::late, "late", "late"},
        {Easing::early, "early", "early"},
    };
    return kRows;
}

const Field<Voice>& turnsField() {
    static constexpr Field<Voice> kTurns{
        "turns", "Turns per loop", FieldUnit::whole, &Voice::turns, -kMostTurns, kMostTurns, 1.0};
    return kTurns;
}

const Field<Voice>& wishedRateField() {
    static constexpr Field<Voice> kRate{
        "wished rate", "Target rate", FieldUnit::value, &Voice::wishedRate, -kMostTurns, kMostTurns, 0.0};
    return kRate;
}

const Field<Voice>& phaseField() {
    static constexpr Field<Voice> kPhase{"phase", "Phase", FieldUnit::turns, &Voice::phase, -1e4, 1e4, 0.0};
    return kPhase;
}

std::size_t axisOf(const glm::vec3& direction) {
    const float length = glm::length(direction);
    for (int axis = 0; axis < 3 && length > 0.0f; ++axis) {
        if (std::abs(direction[axis]) > 0.999f * length) {
            return static_cast<std::size_t>(axis);
        }
    }
    return 3;
}

glm::vec3 unitAxis(std::size_t axis) {
    glm::vec3 direction(0.0f);
    direction[static_cast<int>(axis)] = 1.0f;
    return direction;
}

std::string axisLetter(std::size_t axis) {
    return {"XYZ"[axis]};
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
