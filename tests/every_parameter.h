#pragma once

#include "motion/parameter.h"

#include <random>

namespace ripple::tests {

/// The score with every number that can be one as a parameter.
inline motion::Score withEveryParameter(motion::Score score) {
    motion::giveIds(score);
    for (const motion::Adjustable& number : motion::adjustablesOf(score)) {
        score.parameters.push_back(motion::parameterOf(score, number));
    }
    return score;
}

/// Some value in the range of a parameter; whole where it counts whole numbers.
inline double anyValue(const motion::Score& score, const motion::Parameter& parameter, std::mt19937& random) {
    std::uniform_real_distribution<double> any(parameter.least, parameter.most);
    const double value = any(random);
    return motion::adjustableAt(score, parameter.voice, parameter.field)->whole ? std::round(value) : value;
}

} // namespace ripple::tests
