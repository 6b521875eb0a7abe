#pragma once

#include "motion/graph.h"

#include <optional>

namespace ripple::motion {

// Expressions as one writes them: handles to nodes of a graph, each of its own C++ type, so that what does
// not close cannot be built: a Turn can be multiplied by an int, moved by a Number, and made a Number only by
// functions of period 1.

struct Number {
    Graph* graph = nullptr;
    NodeId id = 0;
};
struct Vec3 {
    Graph* graph = nullptr;
    NodeId id = 0;
};
struct Turn {
    Graph* graph = nullptr;
    NodeId id = 0;
};
/// A whole number that may change while the score plays.
struct Whole {
    Graph* graph = nullptr;
    NodeId id = 0;
};
struct Slope {
    Graph* graph = nullptr;
    NodeId id = 0;
};

inline Number number(Graph& g, float value) {
    return {&g, g.constant(value)};
}
inline Vec3 vec3(Graph& g, const glm::vec3& value) {
    return {&g, g.constant(value)};
}

inline Number operator+(Number a, Number b) {
    return {a.graph, a.graph->add(Op::add, {a.id, b.id})};
}
inline Number operator-(Number a, Number b) {
    return {a.graph, a.graph->add(Op::subtract, {a.id, b.id})};
}
inline Number operator*(Number a, Number b) {
    return {a.graph, a.graph->add(Op::multiply, {a.id, b.id})};
}
inline Number operator/(Number a, Number b) {
    return {a.graph, a.graph->add(Op::divide, {a.id, b.id})};
}
inline Number operator-(Number a) {
    return {a.graph, a.graph->add(Op::negate, {a.id})};
}
inline Number operator+(Number a, float b) {
    return a + number(*a.graph, b);
}
inline Number operator-(Number a, float b) {
    return a + number(*a.graph, -b);
}
inline Number operator*(float a, Number b) {
    return number(*b.graph, a) * b;
}
inline Number operator+(float a, Number b) {
    return number(*b.graph, a) + b;
}
inline Number operator-(float a, Number b) {
    return number(*b.graph, a) - b;
}
inline Number least(Number a, Number b) {
    return {a.graph, a.graph->add(Op::least, {a.id, b.id})};
}
inline Number most(Number a, Number b) {
    return {a.graph, a.graph->add(Op::most, {a.id, b.id})};
}
inline Number absolute(Number a) {
    return {a.graph, a.graph->add(Op::absolute, {a.id})};
}
inline Number root(Number a) {
    return {a.graph, a.graph->add(Op::root, {a.id})};
}
inline Number smooth(Number a) {
    return {a.graph, a.graph->add(Op::smooth, {a.id})};
}
/// a < b ? yes : no
inline Number select(Number a, Number b, Number yes, Number no) {
    return {a.graph, a.graph->add(Op::select, {a.id, b.id, yes.id, no.id})};
}
inline Number between(Number a, float low, float high) {
    return least(most(a, number(*a.graph, low)), number(*a.graph, high));
}

inline Turn operator*(int whole, Turn t) {
    return {t.graph, t.graph->add(Op::timesTurn, {t.id}, whole)};
}
inline Turn operator*(Whole whole, Turn t) {
    return {t.graph, t.graph->add(Op::timesWhole, {t.id, whole.id})};
}
inline Number numberOf(Whole whole) {
    return {whole.graph, whole.graph->add(Op::numberOf, {whole.id})};
}
inline Turn operator+(Turn t, Number later) {
    return {t.graph, t.graph->add(Op::laterTurn, {t.id, later.id})};
}
inline Turn operator+(Turn t, float later) {
    return t + number(*t.graph, later);
}
inline Turn placeOnCircle(Number turns) {
    return {turns.graph, turns.graph->add(Op::placeOnCircle, {turns.id})};
}
inline Number sine(Turn t) {
    return {t.graph, t.graph->add(Op::sine, {t.id})};
}
inline Number cosine(Turn t) {
    return {t.graph, t.graph->add(Op::cosine, {t.id})};
}
inline Number sinc(Number turns) {
    return {turns.graph, turns.graph->add(Op::sinc, {turns.id})};
}
inline Number fraction(Turn t) {
    return {t.graph, t.graph->add(Op::fraction, {t.id})};
}

inline Vec3 operator+(Vec3 a, Vec3 b) {
    return {a.graph, a.graph->add(Op::add3, {a.id, b.id})};
}
inline Vec3 operator-(Vec3 a, Vec3 b) {
    return {a.graph, a.graph->add(Op::subtract3, {a.id, b.id})};
}
inline Vec3 operator-(Vec3 a) {
    return {a.graph, a.graph->add(Op::negate3, {a.id})};
}
inline Vec3 operator*(Vec3 a, Number s) {
    return {a.graph, a.graph->add(Op::scale3, {a.id, s.id})};
}
inline Vec3 operator*(Vec3 a, float s) {
    return a * number(*a.graph, s);
}
inline Number dot(Vec3 a, Vec3 b) {
    return {a.graph, a.graph->add(Op::dot, {a.id, b.id})};
}
inline Vec3 cross(Vec3 a, Vec3 b) {
    return {a.graph, a.graph->add(Op::cross, {a.id, b.id})};
}
inline Vec3 compose(Number x, Number y, Number z) {
    return {x.graph, x.graph->add(Op::compose, {x.id, y.id, z.id})};
}
/// 0 x, 1 y, 2 z
inline Number component(Vec3 v, int c) {
    return {v.graph, v.graph->add(c == 0 ? Op::x : c == 1 ? Op::y : Op::z, {v.id})};
}
inline Vec3 unit(Vec3 v) {
    return {v.graph, v.graph->add(Op::unit3, {v.id})};
}
inline Number valueOf(Slope s) {
    return {s.graph, s.graph->add(Op::valueOf, {s.id})};
}
inline Vec3 slopeOf(Slope s) {
    return {s.graph, s.graph->add(Op::slopeOf, {s.id})};
}

} // namespace ripple::motion
