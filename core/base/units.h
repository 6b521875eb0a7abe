#pragma once

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace ripple::base {

// Quantities as people read them. Independent of the locale; thousands are set off by a narrow space.

/// "4 225"
std::string countText(std::size_t count);
/// "0 mm", "0.031 mm", "14 mm", "2.40 m": metres in the unit that suits them, three figures.
std::string lengthText(double metres);
/// "212 B", "44.0 KiB", "1.6 MiB"
std::string sizeText(std::uint64_t bytes);
/// "1.23 s"
std::string secondsText(double seconds);
/// "24", "29.97": up to three decimals
std::string numberText(double value);
/// Always so many decimals, with a point, whatever the locale: "1.20"
std::string decimalText(double value, int decimals);
/// "0.21°"
std::string degreesText(double degrees);
/// "1 frame", "96 frames", "3 vertices"
std::string plural(std::size_t count, const char* noun);

/// Metres of "0.5mm", "12 cm", "1.5 m", "0.002" (metres); µm, mm, cm, m, km, in, ft. Nothing if it is no
/// length.
std::optional<double> parseLength(std::string_view text);

/// Shortest decimal text that reads back as the same float, always with a point or an exponent, as shader
/// languages want it: "0.5", "1.0", "-1.7e-08".
std::string floatLiteral(float value);

} // namespace ripple::base
