#include "motion/score.h"

#include "motion/kinds.h"
#include "motion/parameter.h"
#include "base/problem.h"
#include "base/units.h"

#include <algorithm>
#include <cmath>
#include <set>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

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
    requireSoundParameters(score);
}

int wholeTurns(double turns, const std::string& where) {
    const double whole = std::round(turns);
    if (!std::isfinite(turns) || std::abs(whole) > turnsField().most) {
        base::fail(where, "is no number of turns", "give it a whole number up to 1000");
    }
    if (std::abs(turns - whole) > 1e-9) {
        base::fail(where, base::numberText(turns) + " turns in a loop do not close",
                   base::numberText(std::floor(turns)) + " or " + base::numberText(std::ceil(turns)) + " do");
    }
    return static_cast<int>(whole);
}

} // namespace ripple::motion
