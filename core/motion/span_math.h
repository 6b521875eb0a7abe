#pragma once

// Interval arithmetic on lanes: what each operation can be for operands between theirs. Not for use outside
// this folder.

#include "motion/lane_math.h"

namespace ripple::motion {

struct Span {
    base::Lanes low;
    base::Lanes high;
};

inline Span exactly(float value) {
    return {base::lanes(value), base::lanes(value)};
}
inline Span spanOf(float low, float high) {
    return {base::lanes(low), base::lanes(high)};
}
inline Span operator+(const Span& a, const Span& b) {
    return {a.low + b.low, a.high + b.high};
}
inline Span operator-(const Span& a) {
    return {-a.high, -a.low};
}
inline Span operator-(const Span& a, const Span& b) {
    return a + -b;
}
inline Span operator*(const Span& a, const Span& b) {
    const base::Lanes p[4] = {a.low * b.low, a.low * b.high, a.high * b.low, a.high * b.high};
    return {base::least(base::least(p[0], p[1]), base::least(p[2], p[3])),
            base::most(base::most(p[0], p[1]), base::most(p[2], p[3]))};
}
inline Span squared(const Span& a) {
    const base::Lanes zero = base::lanes(0.0f);
    const base::Lanes low = a.low * a.low;
    const base::Lanes high = a.high * a.high;
    const base::IntLanes holdsZero = (a.low <= zero) & (a.high >= zero);
    return {base::select(holdsZero, zero, base::least(low, high)), base::most(low, high)};
}
inline Span dividedBy(const Span& a, const Span& b) {
    // Divisors do not reach 0 (see Op::divide).
    return a * Span{1.0f / b.high, 1.0f / b.low};
}
inline Span joined(const Span& a, const Span& b) {
    return {base::least(a.low, b.low), base::most(a.high, b.high)};
}
inline Span chosen(const base::IntLanes& which, const Span& a, const Span& b) {
    return {base::select(which, a.low, b.low), base::select(which, a.high, b.high)};
}
inline Span rootOf(const Span& a) {
    const base::Lanes zero = base::lanes(0.0f);
    return {base::squareRoot(base::most(a.low, zero)), base::squareRoot(base::most(a.high, zero))};
}
inline Span smoothOf(const Span& a) {
    const auto step = [](const base::Lanes& x) {
        const base::Lanes t = base::least(base::most(x, base::lanes(0.0f)), base::lanes(1.0f));
        return t * t * (3.0f - 2.0f * t);
    };
    // It rises; the rounding of its own arithmetic is allowed for.
    return {base::most(step(a.low) - 1e-6f, base::lanes(0.0f)),
            base::least(step(a.high) + 1e-6f, base::lanes(1.0f))};
}
inline Span absoluteOf(const Span& a) {
    const base::Lanes zero = base::lanes(0.0f);
    const base::IntLanes holdsZero = (a.low <= zero) & (a.high >= zero);
    const base::Lanes low = base::absolute(a.low);
    const base::Lanes high = base::absolute(a.high);
    return {base::select(holdsZero, zero, base::least(low, high)), base::most(low, high)};
}
/// Rounding moves a number by 2^-11 of it at most.
inline Span halfOf(const Span& a) {
    return {a.low - base::absolute(a.low) * 5e-4f, a.high + base::absolute(a.high) * 5e-4f};
}
inline Span sineOf(const Span& a) {
    const base::Lanes first = sineOfTurn(a.low);
    const base::Lanes last = sineOfTurn(a.high);
    // Over a crest at ¼ + k it reaches 1, over a trough at ¾ + k −1.
    const base::IntLanes crest = floorOf(a.high - 0.25f) >= a.low - 0.25f;
    const base::IntLanes trough = floorOf(a.high - 0.75f) >= a.low - 0.75f;
    return {base::select(trough, base::lanes(-1.0f), base::least(first, last)),
            base::select(crest, base::lanes(1.0f), base::most(first, last))};
}
/// Even, and falling up to its first trough at x = 0.7151, which is its least: −0.21724.
inline Span sincOf(const Span& a) {
    const Span size = absoluteOf(a);
    const base::IntLanes falls = size.high < base::lanes(0.715f);
    return {base::select(falls, sincOfTurns(size.high), base::lanes(-0.21724f)),
            base::select(size.low < base::lanes(0.715f), sincOfTurns(size.low), base::lanes(0.1285f))};
}
inline Span fractionOfSpan(const Span& a) {
    const base::IntLanes same = floorOf(a.low) == floorOf(a.high);
    return chosen(same, {fractionOf(a.low), fractionOf(a.high)}, spanOf(0.0f, 1.0f));
}

} // namespace ripple::motion
