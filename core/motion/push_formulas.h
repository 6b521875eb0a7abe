#pragma once

// What pushes do, for who wires the operations by hand; not for use outside this folder. In them `a` is mask
// · w times how far the push goes at the shape's 1; see score_steps.h.

#include "motion/score.h"

#include <string>

namespace ripple::motion {

/// How much of the noise's range the edge of a cut-out takes.
constexpr float kCutEdge = 0.08f;

std::string directionFormula(const Push& push, double size);
std::string worldFormula(const Push& push, double size);
std::string normalFormula(const Push& push, double size);
std::string pointFormula(const Push& push, double size);
std::string orbitFormula(const Push& push, double size);
std::string bendFormula(const Push& push, double size);
std::string twistFormula(const Push& push, double size);
std::string slideFormula(const Push& push, double size);
std::string rotateFormula(const Push& push, double size);
std::string cutFormula(const Push& push, double size);
std::string shoveFormula(const Push& push, double size);
std::string asideFormula(const Push& push, double size);

} // namespace ripple::motion
