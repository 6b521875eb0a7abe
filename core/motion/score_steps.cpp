#include "motion/score_steps.h"

#include "motion/kinds.h"

#include <array>
#include <charconv>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

std::string easedText(Easing easing) {
    switch (easing) {
    case Easing::linear:
        break;
    case Easing::smooth:
        return "m · m · (3 − 2 · m)";
    case Easing::late:
        return "m · m";
    case Easing::early:
        return "m · (2 − m)";
    }
    return "m";
}

std::string maskStep(const MaskTerm& term, double size) {
    std::string text = "hold: m = clamp((" + rowOf(term).formula(term, size) + " − " + figure(term.low) +
                       ") / " + figure(term.high - term.low) + ", 0, 1)";
    if (term.high == term.low) {
        text = "hold: m = 0 where " + rowOf(term).formula(term, size) + " is below " + figure(term.low) +
               ", else 1";
    } else if (term.easing != Easing::linear) {
        text += ", eased: " + easedText(term.easing);
    }
    if (term.flip) {
        text += "; then 1 less that";
    }
    if (term.floor > 0.0) {
        text += "; then " + figure(term.floor) + " + " + figure(1.0 - term.floor) + " · that";
    }
    return text;
}

std::string placeStep(const Voice& voice, double size, int rate) {
    std::string text = "place: x = " + std::to_string(voice.turns * rate) + " · φ";
    const CourseRow& course = rowOf(voice.course);
    if (course.wavelength) {
        const bool uv = course.wavelength->unit == FieldUnit::uvLength;
        text += " − (" + course.formula(voice.course, size) + ") / " +
                figure(uv ? voice.wavelength.value : voice.wavelength.metres(size));
    }
    if (voice.phase != 0.0) {
        text += (voice.phase > 0.0 ? " + " : " − ") + figure(std::abs(voice.phase));
    }
    const std::string copies = rowOf(voice.copyPhase).formula(voice.copyPhase, size);
    return text + (copies.empty() ? "" : " + " + copies);
}

std::string sizeStep(const Voice& voice, double size, double strength) {
    const Field<Voice>& field = rowOf(voice.push).size;
    switch (field.unit) {
    case FieldUnit::length:
        return "a = mask · w · " + figure(voice.amplitude.metres(size) * strength) + " m";
    case FieldUnit::degrees:
        return "a = mask · w · " + figure(voice.degrees * strength) + "°";
    case FieldUnit::share:
        return "amount = " + figure(voice.amount * strength);
    case FieldUnit::uvLength:
    case FieldUnit::whole:
    case FieldUnit::value:
    case FieldUnit::turns:
    case FieldUnit::modelMetres:
    case FieldUnit::worldMetres:
    case FieldUnit::point:
    case FieldUnit::direction:
    case FieldUnit::uvPoint:
    case FieldUnit::uvDirection:
        break;
    }
    return "a = mask · w · " + figure(voice.amplitude.value * strength);
}

} // namespace

std::string figure(double value) {
    std::array<char, 64> text{};
    const auto end = std::to_chars(text.data(), text.data() + text.size(), value == 0.0 ? 0.0 : value,
                                   std::chars_format::general, 4);
    const std::string plain(text.data(), end.ptr);
    return plain[0] == '-' ? "−" + plain.substr(1) : plain;
}

std::string numbers(const glm::vec3& value) {
    return "(" + figure(static_cast<double>(value.x)) + ", " + figure(static_cast<double>(value.y)) + ", " +
           figure(static_cast<double>(value.z)) + ")";
}

std::string lineDistance(const glm::vec3& point, const glm::vec3& direction) {
    return "the distance of p from the line through " + numbers(point) + " along " +
           numbers(glm::normalize(direction));
}

std::vector<VoiceSteps> stepsOf(const Score& score, double size) {
    std::vector<VoiceSteps> all;
    for (const bool deforms : {true, false}) {
        for (const Voice& voice : score.voices) {
            const PushRow& push = rowOf(voice.push);
            if (push.deforms() != deforms || !isHeard(score, voice)) {
                continue;
            }
            VoiceSteps steps{voice.name, {}};
            for (const MaskTerm& term : voice.heldBy) {
                steps.steps.push_back(maskStep(term, size));
            }
            if (voice.heldBy.size() != 1) {
                steps.steps.push_back(voice.heldBy.empty() ? "mask = 1" : "mask = the product of these");
            } else {
                steps.steps.push_back("mask = that");
            }
            steps.steps.push_back(placeStep(voice, size, score.overall.rate));
            steps.steps.push_back("wave: w = " + rowOf(voice.shape).formula(voice.shape, size));
            steps.steps.push_back("size: " + sizeStep(voice, size, score.overall.strength));
            steps.steps.push_back("push: " + push.formula(voice.push, size));
            all.push_back(std::move(steps));
        }
    }
    return all;
}

} // namespace ripple::motion
