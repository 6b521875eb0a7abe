#pragma once

#include "motion/score.h"

#include <string>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::motion {

/// One voice as steps that a person can wire by hand, in the order in which they are worked out; Markdown
/// without names of the document. The words: p is the rest position, φ the turn, x the place in the voice's
/// own turn, w the wave there.
struct VoiceSteps {
    std::string voice; ///< its name
    std::vector<std::string> steps;
};
/// Those that are heard, bends and twists first. `size`: of the model, metres.
std::vector<VoiceSteps> stepsOf(const Score& score, double size);

// Numbers in formulas: four digits.
std::string figure(double value);
std::string numbers(const glm::vec3& value); ///< "(0, 1, 0)"
std::string lineDistance(const glm::vec3& point, const glm::vec3& direction);

} // namespace ripple::motion
