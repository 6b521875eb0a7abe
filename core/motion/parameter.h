#pragma once

#include "motion/field.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

namespace ripple::motion {

/// A number of a score that can be made a parameter.
struct Adjustable {
    unsigned voice = 0; ///< the voice's id; 0: of Score::overall
    std::string field;  ///< "amplitude", "mask 2 low", "push direction heading"
    std::string label;  ///< "Amplitude"; words that the window translates
    FieldUnit unit = FieldUnit::value;
    bool ofSize = false; ///< of a length: it is a share of the model's size
    bool whole = false;
    double value = 0.0; ///< in the unit
    double least = 0.0; ///< what a score may hold
    double most = 0.0;
    double usual = 0.0; ///< what a reset gives
    /// Least and most that a parameter of it begins with, where its value does not say: angles of the
    /// compass.
    std::optional<std::array<double, 2>> range = {};
};

/// What all voices follow.
const std::vector<Field<Overall>>& overallFields();

/// All of them: what all voices follow, then voice by voice, in the order in which they are asked for.
std::vector<Adjustable> adjustablesOf(const Score& score);
std::optional<Adjustable> adjustableAt(const Score& score, unsigned voice, const std::string& field);
/// Nothing happens where the score has no such number.
void setAdjustable(Score& score, unsigned voice, const std::string& field, double value);

/// The parameter of a number; null if it is none.
const Parameter* parameterAt(const Score& score, unsigned voice, const std::string& field);
/// A parameter as it begins: named after its voice and the number, ranging around the value as far as the
/// score may follow.
Parameter parameterOf(const Score& score, const Adjustable& number);

/// After an edit: voices that make way for a moving point get parameters for that, parameters whose number is
/// gone go too, ranges grow to where values have been set, and what
/// all voices follow comes before the numbers of single ones.
void settleParameters(Score& score);

/// Throws base::Failure naming the parameter for one that means nothing: of a number that is not there, a
/// name that is empty or given twice, least above most, a range that goes where its number or others of its
/// voice must not be (a span below 0; edges of a mask that may meet).
void requireSoundParameters(const Score& score);

// A direction as two angles in degrees: `heading` about the vertical, from Z (0) towards X (90), and `rise`
// above the horizontal.
struct Bearing {
    double heading = 0.0; ///< −180 to 180
    double rise = 0.0;    ///< −90 to 90
};
Bearing bearingOf(const glm::vec3& direction);
/// Of length 1.
glm::vec3 directionOf(const Bearing& bearing);
/// The same of the angles' sines and cosines, whatever they are kept in.
template <typename Number>
std::array<Number, 3> directionOf(const Number& sineOfHeading, const Number& cosineOfHeading,
                                  const Number& sineOfRise, const Number& cosineOfRise) {
    return {sineOfHeading * cosineOfRise, sineOfRise, cosineOfHeading * cosineOfRise};
}

} // namespace ripple::motion
