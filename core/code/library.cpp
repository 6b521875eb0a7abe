#include "code/library.h"

namespace ripple::code {

namespace {

/// Adds the function unless it is there, and calls it.
Value once(Module& module, Type result, const std::string& what, std::vector<std::string> comment,
           std::vector<Parameter> parameters, const std::vector<Value>& arguments,
           const std::function<void(Body&, const std::vector<Value>&)>& build) {
    const std::string name = module.own(what);
    if (!module.has(name)) {
        Body body;
        build(body, valuesOf(parameters));
        module.add(Function{std::move(comment), result, name, std::move(parameters), body.take()});
    }
    return call(name, result, arguments);
}

} // namespace

Value unit(Module& module, const Value& v) {
    return once(module, Base::vec3, "unit", {"Length 1; what has no length stays 0."}, {{Base::vec3, "v"}},
                {v}, [](Body& body, const std::vector<Value>& p) {
                    const Value square = body.fixed("square", dot(p[0], p[0]));
                    body.giveBack(
                        choose(square > 0.0f, p[0] * inverseRoot(square), make(Base::vec3, {0.0f})));
                });
}

Value exactSine(Module& module, const Value& turns) {
    return once(module, Base::scalar, "sine",
                {"sin(2 pi turns) to 2e-7: folded to a quarter of a turn on either side of 0, then an odd",
                 "polynomial of degree 9 (minimax)."},
                {{Base::scalar, "turns"}}, {turns}, [](Body& body, const std::vector<Value>& p) {
                    const Value t = body.fixed("t", absolute(fraction(p[0] - 0.25f) - 0.5f) - 0.25f);
                    const Value s = body.fixed("s", t * t);
                    body.giveBack(
                        t * (6.28318501f +
                             s * (-41.3416557f + s * (81.6010056f + s * (-76.5497818f + s * 39.5367165f)))));
                });
}

Value sinc(Module& module, const Value& turns, bool exact) {
    return once(module, Base::scalar, "sinc", {"sin(2 pi turns) / (2 pi turns)"}, {{Base::scalar, "turns"}},
                {turns}, [&](Body& body, const std::vector<Value>& p) {
                    const Value angle = body.fixed("angle", 6.2831855f * p[0]);
                    const Value whole = exact ? exactSine(module, p[0]) : sine(angle);
                    body.giveBack(
                        choose(absolute(angle) < 0.01f, 1.0f - angle * angle / 6.0f, whole / angle));
                });
}

Value rotated(Module& module, const Value& q, const Value& v) {
    return once(module, Base::vec3, "rotated", {"v rotated by the unit quaternion q."},
                {{Base::vec4, "q"}, {Base::vec3, "v"}}, {q, v}, [](Body& body, const std::vector<Value>& p) {
                    const Value axis = p[0].xyz();
                    const Value t = body.fixed("t", 2.0f * cross(axis, p[1]));
                    body.giveBack(p[1] + p[0].w() * t + cross(axis, t));
                });
}

Value unfold(Module& module, const Value& pair) {
    return once(module, Base::vec3, "unfold", {"Octahedral unit vector from two components in 0..1."},
                {{Base::vec2, "q"}}, {pair}, [](Body& body, const std::vector<Value>& p) {
                    const Value e = body.fixed("e", p[0] * 2.0f - 1.0f);
                    const Value n =
                        body.variable("n", make(Base::vec3, {e, 1.0f - absolute(e.x()) - absolute(e.y())}));
                    const Value under = body.fixed("under", most(-n.z(), 0.0f));
                    body.increase(n.x(), choose(n.x() >= 0.0f, -under, under));
                    body.increase(n.y(), choose(n.y() >= 0.0f, -under, under));
                    body.giveBack(normalize(n));
                });
}

} // namespace ripple::code
