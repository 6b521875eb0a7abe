#include "base/quantity.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace ripple::base {

namespace {

enum class Measures { length, time, speed, rate, turn };

struct Unit {
    const char* name;
    Measures what;
    double size; ///< in metres, seconds, metres a second, hertz, turns
};

constexpr double kTau = 6.283185307179586;

constexpr std::array kUnits = {
    Unit{"m", Measures::length, 1.0},         Unit{"mm", Measures::length, 1e-3},
    Unit{"cm", Measures::length, 1e-2},       Unit{"km", Measures::length, 1e3},
    Unit{"µm", Measures::length, 1e-6},       Unit{"um", Measures::length, 1e-6},
    Unit{"in", Measures::length, 0.0254},     Unit{"ft", Measures::length, 0.3048},
    Unit{"s", Measures::time, 1.0},           Unit{"ms", Measures::time, 1e-3},
    Unit{"min", Measures::time, 60.0},        Unit{"m/s", Measures::speed, 1.0},
    Unit{"cm/s", Measures::speed, 1e-2},      Unit{"mm/s", Measures::speed, 1e-3},
    Unit{"km/h", Measures::speed, 1.0 / 3.6}, Unit{"/s", Measures::rate, 1.0},
    Unit{"Hz", Measures::rate, 1.0},          Unit{"turns", Measures::turn, 1.0},
    Unit{"turn", Measures::turn, 1.0},        Unit{"°", Measures::turn, 1.0 / 360.0},
    Unit{"deg", Measures::turn, 1.0 / 360.0}, Unit{"rad", Measures::turn, 1.0 / kTau},
};

std::string withoutSpaces(std::string_view text) {
    std::string kept(text);
    std::erase(kept, ' ');
    return kept;
}

const Unit* unitNamed(std::string_view name) {
    const std::string wanted = withoutSpaces(name);
    const auto found =
        std::find_if(kUnits.begin(), kUnits.end(), [&](const Unit& unit) { return wanted == unit.name; });
    return found == kUnits.end() ? nullptr : &*found;
}

} // namespace

std::optional<Quantity> parseQuantity(std::string_view text) {
    std::string rest = withoutSpaces(text);
    if (rest.starts_with("−")) {
        rest = "-" + rest.substr(std::string_view("−").size());
    }
    const std::size_t sign = rest.starts_with('+') ? 1 : 0;
    Quantity read;
    const auto end = std::from_chars(rest.data() + sign, rest.data() + rest.size(), read.value);
    if (end.ec != std::errc() || !std::isfinite(read.value)) {
        return std::nullopt;
    }
    read.unit = rest.substr(static_cast<std::size_t>(end.ptr - rest.data()));
    return read;
}

std::optional<double> unitFactor(std::string_view from, std::string_view to) {
    if (withoutSpaces(from) == withoutSpaces(to)) {
        return 1.0;
    }
    const Unit* own = unitNamed(from);
    const Unit* other = unitNamed(to);
    if (!own || !other || own->what != other->what) {
        return std::nullopt;
    }
    return own->size / other->size;
}

} // namespace ripple::base
