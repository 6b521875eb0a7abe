#include "scatter/feet.h"

#include "mesh/bounds.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>
#include <glm/gtc/constants.hpp>

namespace ripple::scatter {

namespace {


} // namespace

Feet measureFeet(std::span<const glm::vec3> frames, std::size_t vertices, double fps, bool closed) {
    Feet feet;
    const std::size_t count = vertices > 0 ? frames.size() / vertices : 0;
    if (count < 2 || !(fps > 0.0)) {
        return feet;
    }
    feet.seconds = static_cast<float>(1.0 / fps);
    mesh::Bounds bounds;
    bounds.add(frames);
    const float height = bounds.size().y;
    const float ground = bounds.min.y + 0.01f * height;
    glm::dvec2 sum(0.0);
    double way = 0.0;
    for (std::size_t f = 0; f + (closed ? 0 : 1) < count; ++f) {
        const glm::vec3* before = frames.data() + f * vertices;
        const glm::vec3* after = frames.data() + (f + 1) % count * vertices;
        glm::dvec2 moved(0.0);
        std::size_t standing = 0;
        for (std::size_t v = 0; v < vertices; ++v) {
            if (before[v].y <= ground && after[v].y <= ground) {
                moved += glm::dvec2(after[v].x - before[v].x, after[v].z - before[v].z);
                ++standing;
            }
        }
        if (standing > 0) {
            moved /= static_cast<double>(standing);
            feet.steps.push_back(glm::vec2(moved));
            sum += moved;
            way += glm::length(moved);
        }
    }
    if (feet.steps.empty()) {
        return feet;
    }
    const glm::dvec2 mean = -sum / static_cast<double>(feet.steps.size()); // the ground goes the other way
    const double speed = glm::length(mean) * fps;
    constexpr double kOneWay = 0.7; // of all that they move, this much goes into the one direction
    if (speed < 0.02 * static_cast<double>(height) || glm::length(sum) < kOneWay * way) {
        return feet;
    }
    feet.speed = static_cast<float>(speed);
    const double turns = std::atan2(mean.x, mean.y) / glm::two_pi<double>();
    feet.facing = static_cast<float>(turns - std::floor(turns));
    return feet;
}

double slideOf(const Feet& feet, double speed, double facing) {
    const glm::dvec2 onward = speed * static_cast<double>(feet.seconds) *
                              glm::dvec2(std::sin(glm::two_pi<double>() * facing), std::cos(glm::two_pi<double>() * facing));
    double slide = 0.0;
    for (const glm::vec2& step : feet.steps) {
        slide += glm::length(glm::dvec2(step) + onward);
    }
    return slide;
}

} // namespace ripple::scatter
