#include "base/text.h"

#include <array>
#include <charconv>
#include <iterator>

#include <utf8.h>

namespace ripple::base {

namespace {

/// Windows-1252 at 0x80 to 0x9F, by the WHATWG Encoding Standard; what it leaves open maps to itself.
constexpr std::array<char32_t, 32> kWindows = {
    0x20AC, 0x81,   0x201A, 0x0192, 0x201E, 0x2026, 0x2020, 0x2021, 0x02C6, 0x2030, 0x0160,
    0x2039, 0x0152, 0x8D,   0x017D, 0x8F,   0x90,   0x2018, 0x2019, 0x201C, 0x201D, 0x2022,
    0x2013, 0x2014, 0x02DC, 0x2122, 0x0161, 0x203A, 0x0153, 0x9D,   0x017E, 0x0178};

} // namespace

std::string likelyUtf8(std::string_view text) {
    if (utf8::is_valid(text.begin(), text.end())) {
        return std::string(text);
    }
    std::string out;
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        const char32_t code = byte >= 0x80 && byte <= 0x9F ? kWindows[byte - 0x80u] : byte;
        utf8::append(code, std::back_inserter(out));
    }
    return out;
}

std::string percentEncoded(std::string_view bytes) {
    constexpr char kDigits[] = "0123456789ABCDEF";
    std::string text;
    for (const char c : bytes) {
        const auto byte = static_cast<unsigned char>(c);
        const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ||
                           std::string_view("/._-").find(c) != std::string_view::npos;
        text += plain ? std::string(1, c) : std::string("%") + kDigits[byte >> 4] + kDigits[byte & 15];
    }
    return text;
}

std::string percentDecoded(std::string_view text) {
    std::string bytes;
    for (std::size_t i = 0; i < text.size(); ++i) {
        unsigned byte = 0;
        const char* digits = text.data() + i + 1;
        if (text[i] == '%' && i + 2 < text.size() &&
            std::from_chars(digits, digits + 2, byte, 16).ptr == digits + 2) {
            bytes += static_cast<char>(byte);
            i += 2;
        } else {
            bytes += text[i];
        }
    }
    return bytes;
}

std::string listed(std::span<const std::string> names) {
    constexpr std::size_t kShown = 3;
    std::string text;
    for (std::size_t i = 0; i < names.size() && i < kShown; ++i) {
        text += (i > 0 ? ", " : "") + names[i];
    }
    return names.size() > kShown ? text + " and " + std::to_string(names.size() - kShown) + " more" : text;
}

} // namespace ripple::base
