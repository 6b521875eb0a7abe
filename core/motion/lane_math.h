#pragma once

#include "base/lanes.h"

#include <cmath>

namespace ripple::motion {

inline base::Lanes floorOf(const base::Lanes& a) {
    const base::Lanes t = base::truncated(a);
    return base::select(t > a, t - 1.0f, t);
}

/// 0 ≤ result < 1
inline base::Lanes fractionOf(const base::Lanes& a) {
    const base::Lanes f = a - floorOf(a);
    return base::select(f >= base::lanes(1.0f), base::lanes(0.0f), f); // a tiny negative rounds up to 1
}

/// To the nearest number that a 16-bit float holds, of two the even one; infinite where it holds none. T. J.
/// Dekker's splitting leaves eleven digits ("A floating-point technique for extending the available
/// precision", 1971); below 2^-14 numbers lie 2^-24 apart.
inline base::Lanes roundedToHalf(const base::Lanes& a) {
    const base::Lanes wide = a * 8193.0f; // 2^13 + 1: of 24 digits 11 are left
    const base::Lanes normal = wide - (wide - a);
    const base::Lanes anchor = base::lanes(0.75f); // floats around it lie 2^-24 apart
    const base::Lanes small = (a + anchor) - anchor;
    const base::Lanes rounded = base::select(base::absolute(a) < base::lanes(6.103515625e-5f), small, normal);
    const base::Lanes none = base::lanes(INFINITY);
    const base::Lanes beyond = base::select(a < base::lanes(0.0f), -none, none);
    return base::select(base::absolute(a) >= base::lanes(65520.0f), beyond, rounded);
}

/// sin 2πx. The nearest whole turn is taken off, then the quarter is mirrored, then a polynomial of the ninth
/// degree (its coefficients fitted for the least largest error over a quarter): off by less than 2e-7.
inline base::Lanes sineOfTurn(const base::Lanes& turns) {
    const base::Lanes half = base::lanes(0.5f);
    const base::Lanes f = turns - floorOf(turns + half); // −½ … ½
    const base::Lanes size = base::absolute(f);
    const base::Lanes folded = base::least(size, 0.5f - size) * 6.28318530717958648f;
    const base::Lanes q = folded * folded;
    const base::Lanes s =
        folded *
        (1.0f + q * (-0.166666597f + q * (0.00833307858f + q * (-0.000198106909f + q * 2.60831598e-06f))));
    return base::select(f < base::lanes(0.0f), -s, s);
}

/// sin 2πx / 2πx.
inline base::Lanes sincOfTurns(const base::Lanes& turns) {
    const base::Lanes angle = turns * 6.28318530717958648f;
    const base::Lanes small = 1.0f - angle * angle * (1.0f / 6.0f);
    const base::IntLanes near = base::absolute(angle) < base::lanes(0.01f); // the series is exact there
    const base::Lanes divisor = base::select(near, base::lanes(1.0f), angle);
    return base::select(near, small, sineOfTurn(turns) / divisor);
}

} // namespace ripple::motion
