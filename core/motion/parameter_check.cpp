// Whether the parameters of a score mean something, and whether it can follow all of their ranges.

#include "motion/parameter.h"

#include "base/problem.h"
#include "base/units.h"

#include <array>
#include <cmath>
#include <set>

namespace ripple::motion {

namespace {

std::string nameOf(const Parameter& parameter) {
    return "parameter \"" + parameter.name + "\"";
}

/// The score with the numbers of two parameters at ends of their ranges: what its own checks must allow.
void requireSoundAt(const Score& score, const Parameter& a, double first, const Parameter& b, double second) {
    Score tried = score;
    tried.parameters.clear();
    setAdjustable(tried, a.voice, a.field, first);
    setAdjustable(tried, b.voice, b.field, second);
    try {
        requireSound(tried);
    } catch (const base::Failure& failure) {
        const base::Problem& found = failure.problem();
        const bool one = &a == &b;
        base::fail(nameOf(a) + (one ? "" : " with " + nameOf(b)),
                   "may become " + base::numberText(first) + (one ? "" : " and " + base::numberText(second)) +
                       ": " + found.where + " " + found.what,
                   found.fix + ", or narrow its range");
    }
}

/// A mask's edges that may meet would divide by nothing there.
void requireEdgesApart(const Score& score, const Voice& voice) {
    for (std::size_t i = 0; i < voice.heldBy.size(); ++i) {
        const std::string prefix = "mask " + std::to_string(i + 1) + " ";
        const Parameter* low = parameterAt(score, voice.id, prefix + "low");
        const Parameter* high = parameterAt(score, voice.id, prefix + "high");
        if (!low && !high) {
            continue;
        }
        const MaskTerm& term = voice.heldBy[i];
        const std::array lows = {low ? low->least : term.low, low ? low->most : term.low};
        const std::array highs = {high ? high->least : term.high, high ? high->most : term.high};
        constexpr double kApart = 1e-5;
        if (lows[1] + kApart > highs[0] && highs[1] + kApart > lows[0]) {
            base::fail(nameOf(low ? *low : *high) + (low && high ? " with " + nameOf(*high) : std::string()),
                       "may bring both edges of a mask of voice \"" + voice.name +
                           "\" together: one lies within " + base::numberText(lows[0]) + " to " +
                           base::numberText(lows[1]) + ", the other within " + base::numberText(highs[0]) +
                           " to " + base::numberText(highs[1]),
                       "narrow a range so that they stay apart");
        }
    }
}

} // namespace

void requireSoundParameters(const Score& score) {
    for (const Field<Overall>& field : overallFields()) {
        requireSound("all voices", field, score.overall);
    }
    std::set<std::string> names;
    for (const Parameter& each : score.parameters) {
        const std::string where = nameOf(each);
        if (each.name.empty()) {
            base::fail("a parameter of \"" + each.field + "\"", "has no name", "give it one");
        }
        if (!names.insert(each.name).second) {
            base::fail(where, "has the name of another one", "give each its own");
        }
        const auto number = adjustableAt(score, each.voice, each.field);
        if (!number) {
            base::fail(where, "stands for \"" + each.field + "\", which the score does not have",
                       "remove it, or let it stand for another number");
        }
        if (parameterAt(score, each.voice, each.field) != &each) {
            base::fail(where, "stands for a number that has a parameter already", "remove one of both");
        }
        if (!std::isfinite(each.least) || !std::isfinite(each.most) || each.least > each.most) {
            base::fail(where,
                       "reaches from " + base::numberText(each.least) + " to " + base::numberText(each.most),
                       "give it a range whose least is not above its most");
        }
        constexpr double kRounding = 1e-6; // of directions, which are kept as vectors
        if (number->value < each.least - kRounding || number->value > each.most + kRounding) {
            base::fail(where,
                       "is " + base::numberText(number->value) + ", outside its range from " +
                           base::numberText(each.least) + " to " + base::numberText(each.most),
                       "widen the range, or change the number");
        }
        if (number->whole && (each.least != std::round(each.least) || each.most != std::round(each.most))) {
            base::fail(where, "counts whole numbers, and its range ends at others",
                       "let it reach from a whole number to a whole number");
        }
        if (each.least < number->least || each.most > number->most) {
            base::fail(where,
                       "reaches from " + base::numberText(each.least) + " to " + base::numberText(each.most) +
                           ", " + number->field + " only from " + base::numberText(number->least) + " to " +
                           base::numberText(number->most),
                       "narrow its range");
        }
    }
    // Numbers that hang together do so in pairs, within a voice.
    for (const Parameter& a : score.parameters) {
        for (const Parameter& b : score.parameters) {
            for (const double first : {a.least, a.most}) {
                for (const double second : {b.least, b.most}) {
                    if (&a <= &b && a.voice == b.voice && (&a != &b || first == second)) {
                        requireSoundAt(score, a, first, b, second);
                    }
                }
            }
        }
    }
    for (const Voice& voice : score.voices) {
        requireEdgesApart(score, voice);
    }
}

} // namespace ripple::motion
