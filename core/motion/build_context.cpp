// What voices are built in: the values of the model, and directions.

#include "base/problem.h"
#include "motion/voice_build.h"

#include <algorithm>

#include <glm/geometric.hpp>

namespace ripple::motion {

std::array<glm::vec3, 2> besides(const glm::vec3& direction) {
    const glm::vec3 a = glm::abs(direction);
    const glm::vec3 away = a.x <= a.y && a.x <= a.z ? glm::vec3(1, 0, 0)
                           : a.y <= a.z             ? glm::vec3(0, 1, 0)
                                                    : glm::vec3(0, 0, 1);
    const glm::vec3 first = glm::normalize(glm::cross(direction, away));
    return {first, glm::cross(direction, first)};
}

Derivation BuildContext::derivation() const {
    Derivation derivation(graph);
    for (std::size_t i = 0; i < model.storedFlat.size(); ++i) {
        if (model.storedFlat[i]) {
            derivation.markPiecewiseConstant(static_cast<std::int32_t>(i));
        }
    }
    return derivation;
}

Vec3 BuildContext::inObject(const glm::vec3& worldDirection) const {
    const Vec3 d = constant(worldDirection);
    const Vec3 x{&graph, graph.add(Op::copyX)};
    const Vec3 y{&graph, graph.add(Op::copyY)};
    const Vec3 z{&graph, graph.add(Op::copyZ)};
    return compose(dot(x, d), dot(y, d), dot(z, d));
}

Number BuildContext::uv(const char* field, std::size_t set, int axis) const {
    if (set >= model.uvSets) {
        base::fail("voice \"" + voice + "\", " + field,
                   "reads UV set " + std::to_string(set) + ", the model has " + std::to_string(model.uvSets),
                   model.uvSets == 0 ? "give the model UVs, or choose something else"
                                     : "choose a set from 0 to " + std::to_string(model.uvSets - 1));
    }
    return {&graph, graph.add(Op::uv, {}, static_cast<std::int32_t>(2 * set) + axis)};
}

Number BuildContext::colour(int channel) const {
    if (!model.colours) {
        base::fail("voice \"" + voice + "\", mask", "reads vertex colours, the model has none",
                   "paint vertex colours, or hold it by something else");
    }
    return {&graph, graph.add(Op::colour, {}, channel)};
}

Number BuildContext::stored(const char* field, const std::string& name) const {
    const auto found = std::find(model.stored.begin(), model.stored.end(), name);
    if (found == model.stored.end()) {
        base::fail("voice \"" + voice + "\", " + field,
                   "reads the stored value \"" + name + "\", which the model does not have",
                   model.stored.empty() ? "store it at the vertices, or choose something else"
                                        : "it has: " + model.stored.front() + " …");
    }
    return {&graph, graph.add(Op::stored, {}, static_cast<std::int32_t>(found - model.stored.begin()))};
}

} // namespace ripple::motion
