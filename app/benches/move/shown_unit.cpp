#include "app/benches/move/shown_unit.h"

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

/// A round step for values of about this size: a hundredth of it or less.
double stepFor(double size) {
    return std::pow(10.0, std::floor(std::log10(std::max(std::abs(size), 1e-6))) - 2.0);
}

} // namespace

ShownUnit shownIn(motion::FieldUnit kept, double size) {
    using Unit = motion::FieldUnit;
    switch (kept) {
    case Unit::whole:
        return {1.0, {}, 0, 1.0};
    case Unit::value:
        return {1.0, {}, 3, 0.01};
    case Unit::share:
        return {kPercent, "%", 0, 1.0};
    case Unit::uvLength:
    case Unit::length:
        return {kPercent, "%", 2, 0.5};
    case Unit::degrees:
        return {1.0, "°", 1, 1.0};
    case Unit::turns:
        return {1.0, "turns", 2, 0.02};
    case Unit::worldMetres:
        return {1.0, "m", 2, 0.1};
    case Unit::direction:
    case Unit::uvPoint:
    case Unit::uvDirection:
        return {1.0, {}, 3, 0.05};
    case Unit::modelMetres:
    case Unit::point:
        break;
    }
    const LengthUnit length = lengthUnitFor(size);
    return {length.perMetre, length.name, length.decimals, stepFor(length.perMetre * size)};
}

ShownUnit shownIn(const motion::Adjustable& number, double size) {
    if (number.unit == motion::FieldUnit::length && !number.ofSize) {
        return shownIn(motion::FieldUnit::modelMetres, size);
    }
    if (number.field == "turns") {
        return {1.0, "turns", 0, 1.0};
    }
    return shownIn(number.unit, size);
}

} // namespace ripple::app
