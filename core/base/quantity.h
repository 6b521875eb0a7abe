#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace ripple::base {

/// A number with the unit that stood after it, as a person types it: "12 cm", "30%", "-1.5", "2 turns".
struct Quantity {
    double value = 0.0;
    std::string unit; ///< without spaces; "" if there was none
};

/// Nothing unless the text begins with a finite number, with a decimal point.
std::optional<Quantity> parseQuantity(std::string_view text);

/// What one `from` is in `to`: 0.1 for mm in cm, 360 for turns in °, 1 for units that are the same. Nothing
/// when they measure different things, or for a name that is not known. Known are lengths (µm, um, mm, cm, m,
/// km, in, ft), times (ms, s, min), speeds (mm/s, cm/s, m/s, km/h), rates (/s, Hz), and turns (turns, turn,
/// °, deg, rad).
std::optional<double> unitFactor(std::string_view from, std::string_view to);

} // namespace ripple::base
