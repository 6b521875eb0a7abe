#include "emit/noise_code.h"

namespace ripple::emit {

using code::Base;
using code::Body;
using code::Function;
using code::make;
using code::Module;
using code::natural;
using code::Parameter;
using code::Value;

namespace {

const Parameter kCells = {Base::scalar, "cells"};
const Parameter kSeed = {Base::natural, "seed"};

/// Three coordinates and a seed, mixed to 32 bits.
void addHash(Module& module) {
    const std::vector<Parameter> parameters = {
        {Base::natural, "x"}, {Base::natural, "y"}, {Base::natural, "z"}, kSeed};
    const auto p = code::valuesOf(parameters);
    Body body;
    const Value h = body.variable("h", p[0] * natural(0x8DA6B343u) + p[1] * natural(0xD8163841u) +
                                           p[2] * natural(0xCB1AB31Fu) + p[3] * natural(0x9E3779B1u));
    body.assign(h, h ^ (h >> 16));
    body.assign(h, h * natural(0x7FEB352Du));
    body.assign(h, h ^ (h >> 15));
    body.assign(h, h * natural(0x846CA68Bu));
    body.giveBack(h ^ (h >> 16));
    module.add(Function{{}, Base::natural, module.own("hash"), parameters, body.take()});
}

void addGradient(Module& module) {
    const std::vector<Parameter> parameters = {{Base::vec3, "cell"}, kCells, kSeed};
    const auto p = code::valuesOf(parameters);
    const Value& cells = p[1];
    Body body;
    const Value inside = body.variable("inside", p[0] - cells * code::floor(p[0] / cells));
    const Value edge = make(Base::vec3, {cells});
    body.comment("What rounding left outside is put back.");
    body.assign(inside, inside - cells * code::step(edge, inside));
    body.assign(inside, inside + cells * (1.0f - code::step(make(Base::vec3, {0.0f}), inside)));
    const auto whole = [](const Value& number) { return make(Base::natural, {number}); };
    const Value h =
        body.fixed("h", code::call(module.own("hash"), Base::natural,
                                   {whole(inside.x()), whole(inside.y()), whole(inside.z()), p[2]}));
    const auto tenBits = [](const Value& bits) { return make(Base::scalar, {bits & natural(1023)}); };
    body.giveBack(make(Base::vec3, {tenBits(h), tenBits(h >> 10), tenBits(h >> 20)}) * (2.0f / 1023.0f) -
                  1.0f);
    module.add(Function{{"A lattice point's gradient; the lattice repeats after `cells`."},
                        Base::vec3,
                        module.own("gradient"),
                        parameters,
                        body.take()});
}

/// The fade between lattice points and its slope, of any number of components.
Value fade(const Value& t) {
    return t * t * t * (t * (t * 6.0f - 15.0f) + 10.0f);
}
Value fadeSlope(const Value& t) {
    return 30.0f * t * t * (t * (t - 2.0f) + 1.0f);
}

struct Lattice {
    Module& module;
    Value cells;
    Value seed;

    Value gradient(const Value& cell) const {
        return code::call(module.own("gradient"), Base::vec3, {cell, cells, seed});
    }
};

void build1(Body& body, const Value& at, const Lattice& lattice) {
    const Value cell = body.fixed("cell", code::floor(at));
    const Value t = body.fixed("t", at - cell);
    const Value w = body.fixed("w", fade(t));
    const Value dw = body.fixed("dw", fadeSlope(t));
    const Value ga = body.fixed("ga", lattice.gradient(make(Base::vec3, {cell, 0.0f, 0.0f})).x());
    const Value gb = body.fixed("gb", lattice.gradient(make(Base::vec3, {cell + 1.0f, 0.0f, 0.0f})).x());
    const Value a = body.fixed("a", ga * t);
    const Value b = body.fixed("b", gb * (t - 1.0f));
    body.giveBack(make(Base::vec4, {code::mix(ga, gb, w) + dw * (b - a), 0.0f, 0.0f, code::mix(a, b, w)}) *
                  2.0f);
}

void build2(Body& body, const Value& at, const Lattice& lattice) {
    const Value cell = body.fixed("cell", code::floor(at));
    const Value t = body.fixed("t", at - cell);
    const Value w = body.fixed("w", fade(t));
    const Value dw = body.fixed("dw", fadeSlope(t));
    std::vector<Value> g;
    std::vector<Value> along;
    for (int corner = 0; corner < 4; ++corner) {
        const std::string letter(1, static_cast<char>('a' + corner));
        const Value way = make(Base::vec2, {static_cast<float>(corner & 1), static_cast<float>(corner >> 1)});
        const Value point = corner == 0 ? cell : cell + way;
        g.push_back(body.fixed("g" + letter, lattice.gradient(make(Base::vec3, {point, 0.0f})).xy()));
        along.push_back(code::dot(g.back(), corner == 0 ? t : t - way));
    }
    std::vector<Value> v;
    for (std::size_t corner = 0; corner < 4; ++corner) {
        v.push_back(body.fixed(std::string(1, static_cast<char>('a' + corner)), along[corner]));
    }
    using code::mix;
    const Value slope =
        body.fixed("slope", mix(mix(g[0], g[1], w.x()), mix(g[2], g[3], w.x()), w.y()) +
                                dw * make(Base::vec2, {mix(v[1] - v[0], v[3] - v[2], w.y()),
                                                       mix(v[2] - v[0], v[3] - v[1], w.x())}));
    body.giveBack(
        make(Base::vec4, {slope, 0.0f, mix(mix(v[0], v[1], w.x()), mix(v[2], v[3], w.x()), w.y())}));
}

void build3(Body& body, const Value& at, const Lattice& lattice) {
    const Value cell = body.fixed("cell", code::floor(at));
    const Value t = body.fixed("t", at - cell);
    const Value w = body.fixed("w", fade(t));
    const Value dw = body.fixed("dw", fadeSlope(t));
    const Value value = body.variable("value", 0.0f);
    const Value slope = body.variable("slope", make(Base::vec3, {0.0f}));
    body.count(
        "corner", 0, [](const Value& corner) { return corner < 8; }, 1,
        [&](Body& inner, const Value& corner) {
            const auto bit = [&](int by) {
                return make(Base::scalar, {(by == 0 ? corner : corner / (1 << by)) % 2});
            };
            const Value k = inner.fixed("k", make(Base::vec3, {bit(0), bit(1), bit(2)}));
            const Value g = inner.fixed("g", lattice.gradient(cell + k));
            const Value along = inner.fixed("along", code::dot(g, t - k));
            const Value part = inner.fixed("part", code::mix(1.0f - w, w, k));
            const Value change = inner.fixed("change", code::mix(-dw, dw, k));
            const Value all = inner.fixed("all", part.x() * part.y() * part.z());
            inner.increase(value, all * along);
            inner.increase(slope, all * g + along * make(Base::vec3, {change.x() * part.y() * part.z(),
                                                                      part.x() * change.y() * part.z(),
                                                                      part.x() * part.y() * change.z()}));
        });
    body.giveBack(make(Base::vec4, {slope, value}) * (2.0f / 3.0f));
}

} // namespace

Value noise(Module& module, std::span<const Value> at, const Value& cells, std::uint32_t seed) {
    const std::size_t dimensions = at.size();
    const std::string name = module.own("noise" + std::to_string(dimensions));
    const Base place = dimensions == 1 ? Base::scalar : dimensions == 2 ? Base::vec2 : Base::vec3;
    if (!module.has(module.own("hash"))) {
        addHash(module);
        addGradient(module);
    }
    if (!module.has(name)) {
        const std::vector<Parameter> parameters = {{place, "p"}, kCells, kSeed};
        const auto p = code::valuesOf(parameters);
        const Lattice lattice{module, p[1], p[2]};
        Body body;
        (dimensions == 1 ? build1 : dimensions == 2 ? build2 : build3)(body, p[0], lattice);
        const char* slopes = dimensions == 1   ? "its slope in x"
                             : dimensions == 2 ? "its slopes in x and y"
                                               : "its slopes in xyz";
        module.add(Function{
            {"Gradient noise that repeats after `cells`: " + std::string(slopes) + ", its value in w."},
            Base::vec4,
            name,
            parameters,
            body.take()});
    }
    return code::call(name, Base::vec4,
                      {dimensions == 1 ? at[0] : make(place, {at.begin(), at.end()}), cells, natural(seed)});
}

Value curve(Module& module, std::size_t index, std::span<const float> values, const Value& x) {
    const std::string name = module.own("curve" + std::to_string(index));
    if (!module.has(name)) {
        const std::string list = name + "_values";
        module.add(code::Gap{});
        module.add(code::ConstantList{list, {values.begin(), values.end()}});
        const int count = static_cast<int>(values.size());
        const auto length = static_cast<float>(count);
        const Value all = code::named(list, Base::scalar);
        Body body;
        const Value at = body.fixed("at", code::named("x", Base::scalar) * length);
        const Value whole = body.fixed("whole", code::floor(at));
        const Value t = body.fixed("t", at - whole);
        const Value i = body.fixed("i", code::clamp(make(Base::whole, {whole}), 0, count - 1));
        const Value a = body.fixed("a", all[(i + (count - 1)) % count]);
        const Value b = body.fixed("b", all[i]);
        const Value c = body.fixed("c", all[(i + 1) % count]);
        const Value d = body.fixed("d", all[(i + 2) % count]);
        const Value k1 = body.fixed("k1", 0.5f * (c - a));
        const Value k2 = body.fixed("k2", a - 2.5f * b + 2.0f * c - 0.5f * d);
        const Value k3 = body.fixed("k3", 1.5f * (b - c) + 0.5f * (d - a));
        body.giveBack(make(Base::vec4, {(k1 + t * (2.0f * k2 + t * 3.0f * k3)) * length, 0.0f, 0.0f,
                                        b + t * (k1 + t * (k2 + t * k3))}));
        module.add(Function{{"A closed curve through " + std::to_string(count) +
                             " values (Catmull and Rom): its slope in x, its value in w."},
                            Base::vec4,
                            name,
                            {{Base::scalar, "x"}},
                            body.take()});
    }
    return code::call(name, Base::vec4, {x});
}

} // namespace ripple::emit
