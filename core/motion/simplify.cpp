// What is known about operations before they are added to a graph: rules that make code shorter. Those of
// vectors are in simplify_vectors.cpp.

#include "motion/simplifier.h"

#include <cmath>

namespace ripple::motion {

namespace {

/// The number that an operation makes of numbers.
float folded(Op op, float a, float b) {
    switch (op) {
    case Op::add:
        return a + b;
    case Op::subtract:
        return a - b;
    case Op::multiply:
        return a * b;
    case Op::divide:
        return a / b;
    case Op::least:
        return a < b ? a : b;
    case Op::most:
        return a > b ? a : b;
    case Op::negate:
        return -a;
    case Op::absolute:
        return std::abs(a);
    // clang-format off
    case Op::position: case Op::normal: case Op::uv: case Op::uvSlope: case Op::colour:
    case Op::colourSlope: case Op::stored: case Op::storedSlope: case Op::turn: case Op::copyId:
    case Op::copyScale: case Op::copyOrigin: case Op::copyX: case Op::copyY: case Op::copyZ:
    case Op::parameter: case Op::wholeParameter: case Op::numberOf: case Op::timesWhole:
    case Op::half: case Op::half3:
    case Op::constant: case Op::constant3: case Op::root: case Op::smooth: case Op::select:
    case Op::timesTurn: case Op::laterTurn: case Op::placeOnCircle: case Op::sine: case Op::cosine:
    case Op::sinc: case Op::fraction: case Op::add3: case Op::subtract3: case Op::negate3: case Op::scale3:
    case Op::dot: case Op::cross: case Op::compose: case Op::x: case Op::y: case Op::z: case Op::unit3:
    case Op::noise1: case Op::noise2: case Op::noise3: case Op::curve: case Op::valueOf: case Op::slopeOf:
        // clang-format on
        break;
    }
    return std::sqrt(a);
}

} // namespace

/// Zeros go, signs become differences, and constants gather at the end: (x + 1) + 2 is x + 3.
Simpler Simplifier::sum() {
    if (is(a_, 0.0f)) {
        return b_;
    }
    if (g_[b_].op == Op::negate) {
        return g_.add(Op::subtract, {a_, g_[b_].in[0]});
    }
    if (g_[a_].op == Op::negate) {
        return g_.add(Op::subtract, {b_, g_[a_].in[0]});
    }
    if (a_ == b_) {
        return g_.add(Op::multiply, {g_.constant(2.0f), a_});
    }
    if (g_.isConstant(a_)) {
        return g_.add(Op::add, {b_, a_}); // constants last, gathered: (x + 1) + 2 is x + 3
    }
    if (g_.isConstant(b_) && g_[a_].op == Op::add && g_.isConstant(g_[a_].in[1])) {
        const NodeId both = g_.constant(g_[g_[a_].in[1]].value.x + g_[b_].value.x);
        return g_.add(Op::add, {g_[a_].in[0], both});
    }
    if (g_.isConstant(b_) && g_[a_].op == Op::subtract && g_.isConstant(g_[a_].in[0])) {
        const NodeId both = g_.constant(g_[g_[a_].in[0]].value.x + g_[b_].value.x);
        return g_.add(Op::subtract, {both, g_[a_].in[1]});
    }
    return is(b_, 0.0f) ? Simpler(a_) : std::nullopt;
}

/// A constant is added with its sign turned.
Simpler Simplifier::difference() {
    if (is(a_, 0.0f)) {
        return g_.add(Op::negate, {b_});
    }
    if (g_[b_].op == Op::negate) {
        return g_.add(Op::add, {a_, g_[b_].in[0]});
    }
    if (g_.isConstant(b_)) {
        return g_.add(Op::add, {a_, g_.constant(-g_[b_].value.x)});
    }
    if (g_[a_].op == Op::negate) {
        return g_.add(Op::negate, {g_.add(Op::add, {g_[a_].in[0], b_})});
    }
    return is(b_, 0.0f) ? Simpler(a_) : std::nullopt;
}

/// Constants gather in front: 2 · (3 · x) is 6 · x. Signs go into constants, or outward to where a sum takes
/// them.
Simpler Simplifier::product() {
    if (is(a_, 0.0f) || is(b_, 0.0f)) {
        return g_.constant(0.0f);
    }
    if (is(a_, 1.0f)) {
        return b_;
    }
    if (is(a_, -1.0f) || is(b_, -1.0f)) {
        return g_.add(Op::negate, {is(a_, -1.0f) ? b_ : a_});
    }
    // Signs go into constants, or outward to where a sum takes them.
    if (g_[b_].op == Op::negate) {
        const NodeId plain = g_[b_].in[0];
        return g_.isConstant(a_) ? g_.add(Op::multiply, {g_.constant(-g_[a_].value.x), plain})
                                 : g_.add(Op::negate, {g_.add(Op::multiply, {a_, plain})});
    }
    if (g_[a_].op == Op::negate) {
        return g_.add(Op::negate, {g_.add(Op::multiply, {g_[a_].in[0], b_})});
    }
    // Constants gather at one place: 2 · (3 · x) is 6 · x.
    if (g_.isConstant(a_) && g_[b_].op == Op::multiply && g_.isConstant(g_[b_].in[0])) {
        const NodeId both = g_.constant(g_[a_].value.x * g_[g_[b_].in[0]].value.x);
        return g_.add(Op::multiply, {both, g_[b_].in[1]});
    }
    if (g_.isConstant(b_)) {
        return g_.add(Op::multiply, {b_, a_}); // constants first
    }
    return std::nullopt;
}

Simpler Simplifier::negative() {
    if (g_[a_].op == Op::subtract) {
        return g_.add(Op::subtract, {g_[a_].in[1], g_[a_].in[0]});
    }
    if (g_[a_].op == Op::multiply && g_.isConstant(g_[a_].in[0])) {
        const NodeId minus = g_.constant(-g_[g_[a_].in[0]].value.x);
        return g_.add(Op::multiply, {minus, g_[a_].in[1]});
    }
    return g_[a_].op == Op::negate ? Simpler(g_[a_].in[0]) : std::nullopt;
}

Simpler Simplifier::choice() {
    if (g_.isConstant(a_) && g_.isConstant(b_)) {
        return g_[a_].value.x < g_[b_].value.x ? node_.in[2] : node_.in[3];
    }
    return node_.in[2] == node_.in[3] ? Simpler(node_.in[2]) : std::nullopt;
}

Simpler Simplifier::simplified() {
    const bool known = g_.isConstant(a_) && (node_.operands == 1 || g_.isConstant(b_));
    if (node_.op >= Op::add && node_.op <= Op::root && known) {
        return g_.constant(folded(node_.op, g_[a_].value.x, node_.operands == 2 ? g_[b_].value.x : 0.0f));
    }
    switch (node_.op) {
    case Op::add:
        return sum();
    case Op::subtract:
        return difference();
    case Op::multiply:
        return product();
    case Op::divide:
        return g_.isConstant(b_) ? Simpler(g_.add(Op::multiply, {g_.constant(1.0f / g_[b_].value.x), a_}))
                                 : std::nullopt;
    case Op::negate:
        return negative();
    case Op::absolute:
        return g_[a_].op == Op::negate ? Simpler(g_.add(Op::absolute, {g_[a_].in[0]})) : std::nullopt;
    case Op::select:
        return choice();
    case Op::timesTurn:
        if (g_[a_].op == Op::timesTurn) {
            return g_.add(Op::timesTurn, {g_[a_].in[0]}, node_.whole * g_[a_].whole);
        }
        return node_.whole == 1 ? Simpler(a_) : std::nullopt;
    case Op::laterTurn:
        return is(b_, 0.0f) ? Simpler(a_) : std::nullopt;
    case Op::add3:
    case Op::subtract3:
        return vectorSum();
    case Op::negate3:
        return negative3();
    case Op::scale3:
        return scaledVector();
    case Op::dot:
        return dotProduct();
    case Op::cross:
        return crossProduct();
    case Op::compose:
        return g_.isConstant(a_) && g_.isConstant(b_) && g_.isConstant(node_.in[2])
                   ? Simpler(g_.constant(glm::vec3(g_[a_].value.x, g_[b_].value.x, g_[node_.in[2]].value.x)))
                   : std::nullopt;
    case Op::x:
    case Op::y:
    case Op::z:
        return component();
    // clang-format off
    case Op::position: case Op::normal: case Op::uv: case Op::uvSlope: case Op::colour:
    case Op::colourSlope: case Op::stored: case Op::storedSlope: case Op::turn: case Op::copyId:
    case Op::copyScale: case Op::copyOrigin: case Op::copyX: case Op::copyY: case Op::copyZ:
    case Op::parameter: case Op::wholeParameter: case Op::numberOf: case Op::timesWhole:
    case Op::half: case Op::half3:
    case Op::constant: case Op::constant3: case Op::least: case Op::most: case Op::root: case Op::smooth:
    case Op::placeOnCircle: case Op::sine: case Op::cosine: case Op::sinc: case Op::fraction:
    case Op::unit3: case Op::noise1: case Op::noise2: case Op::noise3: case Op::curve: case Op::valueOf:
    case Op::slopeOf:
        // clang-format on
        break;
    }
    return std::nullopt;
}

std::optional<NodeId> simplified(Graph& graph, const Node& node) {
    return node.operands == 0 ? std::nullopt : Simplifier(graph, node).simplified();
}

} // namespace ripple::motion
