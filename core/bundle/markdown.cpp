#include "bundle/markdown.h"

#include <string_view>

namespace ripple::bundle {

std::string asText(const std::string& name) {
    constexpr std::string_view kMarkup = "\\`*_{}[]<>()#+-.!|~&:";
    std::string text;
    for (const char c : name) {
        const bool control = static_cast<unsigned char>(c) < 0x20 || c == 0x7F;
        text += control                                     ? std::string(" ")
                : kMarkup.find(c) != std::string_view::npos ? std::string("\\") + c
                                                            : std::string(1, c);
    }
    return text;
}

std::string asCode(const std::string& name) {
    std::string text = "`";
    for (const char c : name) {
        text += c == '`' || static_cast<unsigned char>(c) < 0x20 ? "'" : c == '|' ? "\\|" : std::string(1, c);
    }
    return text + "`";
}

} // namespace ripple::bundle
