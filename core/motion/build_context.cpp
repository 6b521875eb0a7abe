// What voices are built in: the values of the model, and directions.

#include "base/problem.h"
#include "motion/voice_build.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::motion {

std::array<glm::vec3, 2> besides(const glm::vec3& direction) {
    const float across = std::hypot(direction.x, direction.z);
    const glm::vec3 level =
        across > 1e-6f ? glm::vec3(direction.z, 0.0f, -direction.x) / across : glm::vec3(1.0f, 0.0f, 0.0f);
    return {glm::cross(direction, level), -level};
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

namespace {

const Live::One* find(const Live* live, unsigned voice, const std::string& field) {
    if (!live) {
        return nullptr;
    }
    const auto found = live->numbers.find({voice, field});
    return found == live->numbers.end() ? nullptr : &found->second;
}

Setting settingOf(const BuildContext& at, unsigned voice, const std::string& field, double value) {
    const Live::One* one = find(at.live, voice, field);
    return one ? Setting(Number{&at.graph, at.graph.add(Op::parameter, {}, one->index)}) : Setting(value);
}

} // namespace

Setting BuildContext::setting(const std::string& field, double value) const {
    return settingOf(*this, voiceId, part + field, value);
}

std::array<double, 2> BuildContext::reach(const std::string& field, double value) const {
    const Live::One* one = find(live, voiceId, part + field);
    return one ? std::array{one->least, one->most} : std::array{value, value};
}

std::optional<Whole> BuildContext::whole(const std::string& field) const {
    const Live::One* one = find(live, voiceId, part + field);
    return one ? std::optional(Whole{&graph, graph.add(Op::wholeParameter, {}, one->index)}) : std::nullopt;
}

Turn BuildContext::turn() const {
    const Turn plain{&graph, graph.add(Op::turn)};
    if (const Live::One* one = find(live, 0, "rate")) {
        return Whole{&graph, graph.add(Op::wholeParameter, {}, one->index)} * plain;
    }
    return live ? live->overall.rate * plain : plain;
}

Turn BuildContext::swing(int turns) const {
    if (const auto own = whole("turns")) {
        return *own * turn();
    }
    return turns == 0 ? placeOnCircle(constant(0.0)) : turns * turn();
}

Setting turnsOf(const BuildContext& at, const Voice& voice) {
    return at.setting("angle", voice.degrees) * at.strength() / 360.0;
}

Setting BuildContext::strength() const {
    return live ? settingOf(*this, 0, "strength", live->overall.strength) : Setting(1.0);
}

bool BuildContext::followsWind() const {
    return live && (live->overall.heading != 0.0 || find(live, 0, "heading"));
}

Vec3 BuildContext::turnedWithWind(Vec3 direction) const {
    if (!followsWind()) {
        return direction;
    }
    const Setting heading = settingOf(*this, 0, "heading", live->overall.heading);
    const Number c = constant(cosineOf(heading));
    const Number s = constant(sineOf(heading));
    const Number x = component(direction, 0);
    const Number z = component(direction, 2);
    return compose(c * x + s * z, component(direction, 1), c * z - s * x);
}

std::array<Vec3, 3> BuildContext::frame(const std::string& field, const glm::vec3& value) const {
    const glm::vec3 steady = glm::normalize(value);
    const auto [first, second] = besides(steady);
    const Bearing bearing = bearingOf(value);
    const Setting heading = setting(field + " heading", bearing.heading);
    const Setting rise = setting(field + " rise", bearing.rise);
    if (heading.isKnown() && rise.isKnown()) {
        return {constant(steady), constant(first), constant(second)};
    }
    const Setting ch = cosineOf(heading);
    const Setting sh = sineOf(heading);
    const auto [x, y, z] = directionOf(sh, ch, sineOf(rise), cosineOf(rise));
    const Vec3 way = compose(constant(x), constant(y), constant(z));
    const Vec3 level = compose(constant(ch), constant(0.0), constant(Setting(0.0) - sh));
    return {way, cross(way, level), -level};
}

std::array<Vec3, 3> BuildContext::worldFrame(const std::string& field, const glm::vec3& value) const {
    std::array<Vec3, 3> ways = frame(field, value);
    for (Vec3& way : ways) {
        way = turnedWithWind(way);
    }
    return ways;
}

Vec3 BuildContext::inObject(Vec3 d) const {
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
