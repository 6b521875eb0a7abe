#pragma once

#include "motion/score.h"

#include <cmath>
#include <cstdint>
#include <string>
#include <variant>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::motion {

/// What the number of a field counts. Checks, the panel's widgets and units, and handles follow from it.
enum class FieldUnit {
    whole,       ///< a whole number
    value,       ///< a UV coordinate, a channel of a colour or a stored value
    share,       ///< 0.05 for 5 % of what `Field::beside` says
    degrees,     ///< an angle
    turns,       ///< of the loop
    modelMetres, ///< metres on the model, shown in the unit that suits it
    worldMetres, ///< metres between copies
    length,      ///< a Length: metres on the model, or a share of its size
    uvLength,    ///< a Length that is a share of the UV range: `value` counts, `ofSize` does not
    point,       ///< metres on the model: x, y, z
    direction,   ///< of any length but 0: x, y, z
    uvPoint,     ///< u, v
    uvDirection, ///< u, v
};

/// What code and manifests call the unit of a field: "metres", "degrees", "turns"; empty for plain numbers.
const char* unitName(FieldUnit unit);

/// One thing that a person sets at a part of a voice (Course, Shape, Push, MaskTerm, CopyPhase, or the Voice
/// itself). The rows of kinds.h list those that matter to a kind; the check of a score, the fields of the
/// panel and the handles on the model are made from them.
template <typename Part>
struct Field {
    const char* id;    ///< names it in messages and in the window: "softness"
    const char* label; ///< "Edge softness"
    FieldUnit unit;
    /// Where it is kept.
    std::variant<double Part::*, int Part::*, std::uint32_t Part::*, Length Part::*, glm::vec3 Part::*>
        member;
    // Of numbers. For a Length they bound what an editor offers, and a score may hold any other of the same
    // sign; for points and directions they mean nothing.
    double least = 0.0;
    double most = 0.0;
    double usual = 0.0;       ///< what a reset gives
    const char* beside = "";  ///< what stands beside the field: "of one turn"
    const char* handle = "";  ///< of points, directions and lengths: names the handle on the model, "hinge"
    const char* caption = ""; ///< what is written at that handle
    bool fixed = false;       ///< says how the code is made, and can be no parameter
};

/// The number of a field, in its unit (degrees, turns, 0.05 for 5 %); of a Length its `value`.
template <typename Part>
double numberOf(const Field<Part>& field, const Part& part) {
    if (const auto* real = std::get_if<double Part::*>(&field.member)) {
        return part.**real;
    }
    if (const auto* whole = std::get_if<int Part::*>(&field.member)) {
        return part.**whole;
    }
    if (const auto* seed = std::get_if<std::uint32_t Part::*>(&field.member)) {
        return part.**seed;
    }
    return (part.*std::get<Length Part::*>(field.member)).value;
}

/// Whole numbers are rounded to.
template <typename Part>
void setNumber(const Field<Part>& field, Part& part, double value) {
    if (const auto* real = std::get_if<double Part::*>(&field.member)) {
        part.** real = value;
    } else if (const auto* whole = std::get_if<int Part::*>(&field.member)) {
        part.** whole = static_cast<int>(std::lround(value));
    } else if (const auto* seed = std::get_if<std::uint32_t Part::*>(&field.member)) {
        part.** seed = static_cast<std::uint32_t>(std::llround(value));
    } else {
        (part.*std::get<Length Part::*>(field.member)).value = value;
    }
}

/// Of fields that hold three or two numbers, or a Length.
template <typename Part>
const glm::vec3& vectorOf(const Field<Part>& field, const Part& part) {
    return part.*std::get<glm::vec3 Part::*>(field.member);
}
template <typename Part>
void setVector(const Field<Part>& field, Part& part, const glm::vec3& value) {
    part.*std::get<glm::vec3 Part::*>(field.member) = value;
}
template <typename Part>
const Length& lengthOf(const Field<Part>& field, const Part& part) {
    return part.*std::get<Length Part::*>(field.member);
}
template <typename Part>
void setLength(const Field<Part>& field, Part& part, const Length& value) {
    part.*std::get<Length Part::*>(field.member) = value;
}

// Checks. They throw base::Failure naming `where` (the voice) and the field for a value that means nothing.
void requireWithin(const std::string& where, const char* field, double value, double least, double most);
void requireFinite(const std::string& where, const char* field, const glm::vec3& value);
void requireDirection(const std::string& where, const char* field, const glm::vec3& direction);
void requireLength(const std::string& where, const char* field, const Length& length, bool aboveZero);

template <typename Part>
void requireSound(const std::string& where, const Field<Part>& field, const Part& part) {
    if (const auto* vector = std::get_if<glm::vec3 Part::*>(&field.member)) {
        const bool direction = field.unit == FieldUnit::direction || field.unit == FieldUnit::uvDirection;
        (direction ? requireDirection : requireFinite)(where, field.id, part.**vector);
    } else if (const auto* length = std::get_if<Length Part::*>(&field.member)) {
        requireLength(where, field.id, part.**length, field.least > 0.0);
    } else {
        requireWithin(where, field.id, numberOf(field, part), field.least, field.most);
    }
}

} // namespace ripple::motion
