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

namespace {

std::string moverWords(const Push& push) {
    return numbers(glm::vec3(glm::dvec3(push.moverX, push.moverY, push.moverZ)));
}

} // namespace

std::string shoveFormula(const Push& push, double) {
    return "with d = p − (the world's point " + moverWords(push) +
           " in the object's space), s = clamp(1 − length(d) · (the copy's scale) / " + figure(push.reach) +
           ", 0, 1): add normalize(d) · s² · (3 − 2 s) · amplitude · mask to the position";
}

std::string asideFormula(const Push& push, double size) {
    return "with d = the copy's place − the world's point " + moverWords(push) +
           ", without its height, s = clamp(1 − length(d) / " + figure(push.reach) +
           ", 0, 1): bend by s² · (3 − 2 s) · angle · mask along " + numbers(glm::normalize(push.length)) +
           " from " + numbers(push.point) + " over " + figure(push.span.metres(size)) +
           " m, toward normalize(d)";
}

std::string cutFormula(const Push&, double) {
    const auto edge = static_cast<double>(kCutEdge);
    return "multiply alpha with clamp((0.5 + 0.5 · w − " + figure(1.0 + edge) + " · amount · mask) / " +
           figure(edge) + " + 1, 0, 1)";
}

} // namespace ripple::motion
