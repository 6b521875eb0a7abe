#include "motion/parameter.h"

#include "base/problem.h"
#include "base/units.h"
#include "motion/kinds.h"

#include <algorithm>
#include <tuple>

#include <glm/geometric.hpp>
#include <glm/trigonometric.hpp>

namespace ripple::motion {

namespace {

constexpr const char* kHeading = " heading";
constexpr const char* kRise = " rise";
constexpr std::array kAllRound = {-180.0, 180.0};

/// Calls `see` with each part of a voice: what comes before the names of its fields, the fields, the part.
template <typename VoiceRef, typename See>
void visitParts(VoiceRef& voice, const See& see) {
    std::vector<Field<Voice>> own = {rowOf(voice.push).size, turnsField(), phaseField()};
    if (const auto& wavelength = rowOf(voice.course).wavelength) {
        own.insert(own.begin() + 1, *wavelength);
    }
    see(std::string(), own, voice);
    see(std::string(), rowOf(voice.course).fields, voice.course);
    see(std::string(), rowOf(voice.shape).fields, voice.shape);
    see(std::string(), rowOf(voice.push).fields, voice.push);
    for (std::size_t i = 0; i < voice.heldBy.size(); ++i) {
        auto fields = rowOf(voice.heldBy[i]).fields;
        const auto edges = edgeFields(voice.heldBy[i]);
        fields.insert(fields.begin(), edges.begin(), edges.end());
        see("mask " + std::to_string(i + 1) + " ", fields, voice.heldBy[i]);
    }
    see(std::string(), rowOf(voice.copyPhase).fields, voice.copyPhase);
}

template <typename Part>
void addAdjustables(std::vector<Adjustable>& to, unsigned voice, const std::string& prefix,
                    const Field<Part>& field, const Part& part) {
    if (field.fixed) {
        return;
    }
    Adjustable number;
    number.voice = voice;
    number.field = prefix + field.id;
    number.label = field.label;
    number.unit = field.unit;
    if (field.unit == FieldUnit::direction) {
        const Bearing bearing = bearingOf(vectorOf(field, part));
        number.unit = FieldUnit::degrees;
        number.field = prefix + field.id + kHeading;
        number.value = bearing.heading;
        number.least = -360.0;
        number.most = 360.0;
        number.range = kAllRound;
        to.push_back(number);
        number.field = prefix + field.id + kRise;
        number.value = bearing.rise;
        number.least = -90.0;
        number.most = 90.0;
        number.range = {-90.0, 90.0};
        to.push_back(number);
        return;
    }
    if (std::holds_alternative<glm::vec3 Part::*>(field.member)) {
        return; // points stay where they are
    }
    number.value = numberOf(field, part);
    number.least = field.least;
    number.most = field.most;
    number.usual = field.usual;
    number.whole = std::holds_alternative<int Part::*>(field.member);
    number.ofSize = std::holds_alternative<Length Part::*>(field.member) && field.unit == FieldUnit::length &&
                    lengthOf(field, part).ofSize;
    to.push_back(number);
}

std::vector<Adjustable> adjustablesOf(const Voice& voice) {
    std::vector<Adjustable> all;
    visitParts(voice, [&](const std::string& prefix, const auto& fields, const auto& part) {
        for (const auto& field : fields) {
            addAdjustables(all, voice.id, prefix, field, part);
        }
    });
    return all;
}

template <typename Part>
void setIn(const std::string& name, double value, const Field<Part>& field, Part& part,
           const std::string& prefix) {
    const std::string own = prefix + field.id;
    if (field.unit == FieldUnit::direction) {
        Bearing bearing = bearingOf(vectorOf(field, part));
        if (name != own + kHeading && name != own + kRise) {
            return;
        }
        (name == own + kHeading ? bearing.heading : bearing.rise) = value;
        setVector(field, part, directionOf(bearing));
    } else if (name == own && !std::holds_alternative<glm::vec3 Part::*>(field.member)) {
        setNumber(field, part, value);
    }
}

const Voice* voiceOf(const Score& score, unsigned id) {
    const auto found = std::find_if(score.voices.begin(), score.voices.end(),
                                    [&](const Voice& voice) { return voice.id == id; });
    return id == 0 || found == score.voices.end() ? nullptr : &*found;
}

} // namespace

const std::vector<Field<Overall>>& overallFields() {
    static const std::vector<Field<Overall>> kFields = {
        {"strength", "Strength", FieldUnit::share, &Overall::strength, 0.0, 10.0, 1.0, "of every voice"},
        {"heading", "Heading of the wind", FieldUnit::degrees, &Overall::heading, -360.0, 360.0, 0.0,
         "about the vertical"},
        {"rate", "Rate", FieldUnit::whole, &Overall::rate, 1, 16, 1, "times round in a loop"},
    };
    return kFields;
}

Bearing bearingOf(const glm::vec3& direction) {
    const glm::dvec3 d = glm::normalize(glm::dvec3(direction));
    return {d.x == 0.0 && d.z == 0.0 ? 0.0 : glm::degrees(std::atan2(d.x, d.z)),
            glm::degrees(std::asin(std::clamp(d.y, -1.0, 1.0)))};
}

glm::vec3 directionOf(const Bearing& bearing) {
    const double heading = glm::radians(bearing.heading);
    const double rise = glm::radians(bearing.rise);
    const auto [x, y, z] = directionOf(std::sin(heading), std::cos(heading), std::sin(rise), std::cos(rise));
    return glm::vec3(glm::dvec3(x, y, z));
}

std::vector<Adjustable> adjustablesOf(const Score& score) {
    std::vector<Adjustable> all;
    for (const Field<Overall>& field : overallFields()) {
        addAdjustables(all, 0, {}, field, score.overall);
        if (field.unit == FieldUnit::degrees) { // the wind's
            all.back().range = kAllRound;
        }
    }
    for (const Voice& voice : score.voices) {
        const std::vector<Adjustable> own = adjustablesOf(voice);
        all.insert(all.end(), own.begin(), own.end());
    }
    return all;
}

std::optional<Adjustable> adjustableAt(const Score& score, unsigned voice, const std::string& field) {
    const std::vector<Adjustable> all = adjustablesOf(score);
    const auto found = std::find_if(all.begin(), all.end(), [&](const Adjustable& each) {
        return each.voice == voice && each.field == field;
    });
    return found == all.end() ? std::nullopt : std::optional(*found);
}

void setAdjustable(Score& score, unsigned id, const std::string& name, double value) {
    if (id == 0) {
        for (const Field<Overall>& field : overallFields()) {
            setIn(name, value, field, score.overall, {});
        }
        return;
    }
    for (Voice& voice : score.voices) {
        if (voice.id == id) {
            visitParts(voice, [&](const std::string& prefix, const auto& fields, auto& part) {
                for (const auto& field : fields) {
                    if (!field.fixed) {
                        setIn(name, value, field, part, prefix);
                    }
                }
            });
        }
    }
}

const Parameter* parameterAt(const Score& score, unsigned voice, const std::string& field) {
    const auto found =
        std::find_if(score.parameters.begin(), score.parameters.end(),
                     [&](const Parameter& each) { return each.voice == voice && each.field == field; });
    return found == score.parameters.end() ? nullptr : &*found;
}

namespace {

/// "lean_angle", and another one where that is taken.
std::string freeName(const Score& score, const Adjustable& number) {
    const Voice* voice = voiceOf(score, number.voice);
    std::string name;
    for (const char c : (voice ? voice->name + " " : std::string()) + number.field) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9');
        if (plain) {
            name += static_cast<char>(c >= 'A' && c <= 'Z' ? c - 'A' + 'a' : c);
        } else if (!name.empty() && name.back() != '_') {
            name += '_';
        }
    }
    const auto taken = [&](const std::string& tried) {
        return std::any_of(score.parameters.begin(), score.parameters.end(),
                           [&](const Parameter& other) { return other.name == tried; });
    };
    std::string free = name;
    for (int n = 2; taken(free); ++n) {
        free = name + "_" + std::to_string(n);
    }
    return free;
}

/// How far the number may go from its value, if nothing else is in its way.
std::array<double, 2> rangeOf(const Score& score, const Adjustable& number) {
    const double v = number.value;
    if (number.range) {
        return *number.range;
    }
    const std::string prefix = number.field.substr(0, number.field.rfind(' ') + 1);
    const bool low = number.field.ends_with(" low");
    if (low || number.field.ends_with(" high")) { // edges of a mask stay on their side of the middle
        const auto other = adjustableAt(score, number.voice, prefix + (low ? "high" : "low"));
        const double reach = 0.45 * std::abs(other->value - v);
        return {v - reach, v + reach};
    }
    if (number.unit == FieldUnit::turns) {
        return {std::min(-1.0, v), std::max(1.0, v)};
    }
    if (number.whole) {
        return {std::min(1.0, v), std::max(8.0, 2.0 * v)};
    }
    // From nothing to twice the value suits amplitudes and angles; what must be above 0 halves and doubles.
    return number.least > 0.0 ? std::array{0.5 * v, 2.0 * v}
                              : std::array{std::min(0.0, 2.0 * v), std::max(0.0, 2.0 * v)};
}

bool isSound(Score score, const Parameter& parameter) {
    score.parameters.push_back(parameter);
    try {
        requireSoundParameters(score);
        return true;
    } catch (const base::Failure&) {
        return false;
    }
}

} // namespace

Parameter parameterOf(const Score& score, const Adjustable& number) {
    const double v = number.value;
    const auto [least, most] = rangeOf(score, number);
    Parameter made{number.voice,
                   number.field,
                   freeName(score, number),
                   {},
                   std::max(least, number.least),
                   std::min(most, number.most)};
    if (made.least == made.most) {
        made.most = std::min(made.least + 1.0, number.most);
    }
    // What hangs together with other numbers goes half as far, until the score can follow.
    constexpr int kHalvings = 20;
    for (int i = 0; i < kHalvings && !isSound(score, made); ++i) {
        made.least = 0.5 * (made.least + v);
        made.most = 0.5 * (made.most + v);
        if (number.whole) {
            made.least = std::ceil(made.least);
            made.most = std::floor(made.most);
        }
    }
    if (!isSound(score, made)) {
        made.least = made.most = v;
    }
    return made;
}

namespace {

/// Where the point is that a voice makes way for is the game's to say.
void giveMoverParameters(Score& score) {
    for (const Voice& voice : score.voices) {
        if (!rowOf(voice.push).followsMover) {
            continue;
        }
        for (const auto& [field, least, most] :
             {std::tuple("mover x", -1000.0, 1000.0), std::tuple("mover y", -1000.0, 1000.0),
              std::tuple("mover z", -1000.0, 1000.0), std::tuple("reach", 0.05, 100.0)}) {
            const auto number = adjustableAt(score, voice.id, field);
            if (number && !parameterAt(score, voice.id, field)) {
                score.parameters.push_back({voice.id, field, freeName(score, *number), {}, least, most});
            }
        }
    }
}

} // namespace

void settleParameters(Score& score) {
    giveMoverParameters(score);
    std::erase_if(score.parameters, [&](Parameter& each) {
        const auto number = adjustableAt(score, each.voice, each.field);
        if (number) {
            each.least = std::min(each.least, number->value);
            each.most = std::max(each.most, number->value);
        }
        return !number;
    });
    // What all voices follow comes first.
    std::stable_partition(score.parameters.begin(), score.parameters.end(),
                          [](const Parameter& each) { return each.voice == 0; });
}

} // namespace ripple::motion
