#include "base/units.h"

#include "base/quantity.h"

#include <array>
#include <charconv>
#include <cmath>
#include <initializer_list>

namespace ripple::base {

namespace {

std::string fixed(double value, int decimals) {
    std::array<char, 64> buffer{};
    const auto end = std::to_chars(buffer.data(), buffer.data() + buffer.size(), value,
                                   std::chars_format::fixed, decimals);
    return end.ec == std::errc() ? std::string(buffer.data(), end.ptr) : std::string("?");
}

/// Three significant figures, without an exponent.
std::string threeFigures(double value) {
    const double size = std::abs(value);
    return fixed(value, size < 0.01 ? 4 : size < 0.1 ? 3 : size < 10.0 ? 2 : size < 100.0 ? 1 : 0);
}

} // namespace

std::string countText(std::size_t count) {
    std::string digits = std::to_string(count);
    std::string text;
    for (std::size_t i = 0; i < digits.size(); ++i) {
        if (i > 0 && (digits.size() - i) % 3 == 0) {
            text += "\u202f";
        }
        text += digits[i];
    }
    return text;
}

std::string lengthText(double metres) {
    if (metres == 0.0) {
        return "0 mm";
    }
    if (!std::isfinite(metres)) {
        return "∞ m";
    }
    const double size = std::abs(metres);
    if (size < 5e-8) {
        return "< 0.0001 mm";
    }
    if (size < 1.0) {
        return threeFigures(metres * 1000.0) + " mm";
    }
    return fixed(metres, size < 100.0 ? 2 : 1) + " m";
}

std::string sizeText(std::uint64_t bytes) {
    if (bytes < 1024) {
        return std::to_string(bytes) + " B";
    }
    const double kib = static_cast<double>(bytes) / 1024.0;
    if (kib < 1024.0) {
        return fixed(kib, kib < 100.0 ? 1 : 0) + " KiB";
    }
    const double mib = kib / 1024.0;
    if (mib < 1024.0) {
        return fixed(mib, mib < 100.0 ? 1 : 0) + " MiB";
    }
    return fixed(mib / 1024.0, 1) + " GiB";
}

std::string secondsText(double seconds) {
    return fixed(seconds, 2) + " s";
}

std::string decimalText(double value, int decimals) {
    return fixed(value, decimals);
}

std::string numberText(double value) {
    std::string text = fixed(value, 3);
    while (text.back() == '0') {
        text.pop_back();
    }
    if (text.back() == '.') {
        text.pop_back();
    }
    return text;
}

std::string degreesText(double degrees) {
    return fixed(degrees, degrees < 10.0 ? 2 : 1) + "°";
}

std::string plural(std::size_t count, const char* noun) {
    if (count == 1) {
        return countText(count) + " " + noun;
    }
    const std::string word = noun;
    const auto without = [&](std::size_t letters) { return word.substr(0, word.size() - letters); };
    return countText(count) + " " +
           (word.ends_with("ex")   ? without(2) + "ices"
            : word.ends_with("py") ? without(1) + "ies"
                                   : word + "s");
}

std::string floatLiteral(float value) {
    std::array<char, 64> buffer{};
    const auto end = std::to_chars(buffer.data(), buffer.data() + buffer.size(), value);
    std::string text(buffer.data(), end.ptr);
    if (text.find_first_of(".en") == std::string::npos) {
        text += ".0";
    }
    return text;
}

std::optional<double> parseLength(std::string_view text) {
    const auto read = parseQuantity(text);
    if (!read) {
        return std::nullopt;
    }
    const auto metres = read->unit.empty() ? std::optional(1.0) : unitFactor(read->unit, "m");
    return metres ? std::optional(read->value * *metres) : std::nullopt;
}

} // namespace ripple::base
