#pragma once

// Not for use outside this folder.

#include "motion/value.h"

#include <cmath>
#include <optional>

namespace ripple::motion {

/// A number that a voice is built with: known, and then worked with in double precision; or a parameter, or
/// what is made of one, and then an expression.
struct Setting {
    double known = 0.0;
    std::optional<Number> live = {};

    Setting(double value) : known(value) {}
    Setting(Number expression) : live(expression) {}
    bool isKnown() const { return !live; }
    bool is(double value) const { return !live && known == value; }
    Number in(Graph& graph) const { return live ? *live : number(graph, static_cast<float>(known)); }
};

inline Setting operator+(const Setting& a, const Setting& b) {
    if (a.isKnown() && b.isKnown()) {
        return a.known + b.known;
    }
    Graph& graph = *(a.live ? a.live : b.live)->graph;
    return a.in(graph) + b.in(graph);
}
inline Setting operator-(const Setting& a, const Setting& b) {
    if (a.isKnown() && b.isKnown()) {
        return a.known - b.known;
    }
    Graph& graph = *(a.live ? a.live : b.live)->graph;
    return a.in(graph)-b.in(graph);
}
inline Setting operator*(const Setting& a, const Setting& b) {
    if (a.isKnown() && b.isKnown()) {
        return a.known * b.known;
    }
    Graph& graph = *(a.live ? a.live : b.live)->graph;
    return a.in(graph)*b.in(graph);
}
/// The divisor is never 0.
inline Setting operator/(const Setting& a, const Setting& b) {
    if (a.isKnown() && b.isKnown()) {
        return a.known / b.known;
    }
    Graph& graph = *(a.live ? a.live : b.live)->graph;
    return a.in(graph) / b.in(graph);
}
inline Setting larger(const Setting& a, const Setting& b) {
    if (a.isKnown() && b.isKnown()) {
        return std::max(a.known, b.known);
    }
    Graph& graph = *(a.live ? a.live : b.live)->graph;
    return most(a.in(graph), b.in(graph));
}

inline Number operator*(const Setting& a, Number b) {
    return a.in(*b.graph) * b;
}
inline Number operator+(Number a, const Setting& b) {
    return a + b.in(*a.graph);
}
inline Number operator-(Number a, const Setting& b) {
    return b.isKnown() ? a - static_cast<float>(b.known) : a - *b.live;
}

// Of an angle in degrees.
inline Setting cosineOf(const Setting& degrees) {
    if (degrees.isKnown()) {
        return std::cos(degrees.known * 3.14159265358979323846 / 180.0);
    }
    return cosine(placeOnCircle(1.0f / 360.0f * *degrees.live));
}
inline Setting sineOf(const Setting& degrees) {
    if (degrees.isKnown()) {
        return std::sin(degrees.known * 3.14159265358979323846 / 180.0);
    }
    return sine(placeOnCircle(1.0f / 360.0f * *degrees.live));
}

} // namespace ripple::motion
