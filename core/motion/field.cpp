#include "motion/field.h"

#include "base/problem.h"
#include "base/units.h"
#include "motion/kinds.h"

#include <glm/geometric.hpp>

namespace ripple::motion {

const char* unitName(FieldUnit unit) {
    switch (unit) {
    case FieldUnit::degrees:
        return "degrees";
    case FieldUnit::turns:
        return "turns";
    case FieldUnit::modelMetres:
    case FieldUnit::worldMetres:
    case FieldUnit::length:
    case FieldUnit::point:
        return "metres";
    case FieldUnit::whole:
    case FieldUnit::value:
    case FieldUnit::share:
    case FieldUnit::uvLength:
    case FieldUnit::direction:
    case FieldUnit::uvPoint:
    case FieldUnit::uvDirection:
        break;
    }
    return "";
}

namespace {

constexpr double kMostTurns = 1000.0;

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

} // namespace ripple::motion
