#include "motion/push_formulas.h"

#include "motion/score_steps.h"

#include <glm/geometric.hpp>

namespace ripple::motion {

std::string directionFormula(const Push& push, double) {
    return "add " + numbers(glm::normalize(push.direction)) + " · a to the position";
}

std::string worldFormula(const Push& push, double) {
    return "add the world direction " + numbers(glm::normalize(push.direction)) +
           ", turned into the object's space, · a / (the copy's scale) to the position";
}

std::string normalFormula(const Push&, double) {
    return "add normal · a to the position (the normal after all bends and twists)";
}

std::string pointFormula(const Push& push, double) {
    return "add normalize(p − " + numbers(push.point) + ") · a to the position";
}

std::string orbitFormula(const Push& push, double) {
    return "add " + numbers(glm::vec3(0, 1, 0)) + " · " + figure(push.rise) + " · a − " +
           numbers(glm::normalize(push.direction)) +
           " · b to the position, b being the same as a, a quarter of a turn later (x + 0.25)";
}

std::string bendFormula(const Push& push, double size) {
    const std::string span = figure(push.span.metres(size));
    return "with q = position − " + numbers(push.point) + ", t = dot(q, " +
           numbers(glm::normalize(push.length)) + "), r = clamp(t, 0, " + span +
           "): the angle grows evenly to a at " + span + " m. The middle line turns about " +
           numbers(glm::normalize(push.direction)) + " by a · r / " + span +
           "; its point lies on a chord of r · sin(h) / h at half that angle, h = a · r / (2 · " + span +
           "); what lies beside or beyond the line is turned by the whole angle";
}

std::string twistFormula(const Push& push, double size) {
    const std::string span = figure(push.span.metres(size));
    return "with t = dot(position − " + numbers(push.point) + ", " + numbers(glm::normalize(push.direction)) +
           "): rotate about that axis through that point by a · clamp(t, 0, " + span + ") / " + span;
}

std::string slideFormula(const Push& push, double) {
    return "add (" + figure(static_cast<double>(push.direction.x)) + ", " +
           figure(static_cast<double>(push.direction.y)) + ") at length 1 · a to the base texture's UV";
}

std::string rotateFormula(const Push& push, double) {
    return "rotate the base texture's UV about (" + figure(static_cast<double>(push.point.x)) + ", " +
           figure(static_cast<double>(push.point.y)) + ") by a";
}

std::string cutFormula(const Push&, double) {
    const auto edge = static_cast<double>(kCutEdge);
    return "multiply alpha with clamp((0.5 + 0.5 · w − " + figure(1.0 + edge) + " · amount · mask) / " +
           figure(edge) + " + 1, 0, 1)";
}

} // namespace ripple::motion
