#pragma once

#include <string>
#include <utility>
#include <vector>

namespace ripple::emit {

using Values = std::vector<std::pair<std::string, std::string>>;

/// Replaces every "@key@" in a template.
inline std::string fill(std::string text, const Values& values) {
    for (const auto& [key, value] : values) {
        const std::string mark = "@" + key + "@";
        for (std::size_t at = text.find(mark); at != std::string::npos;
             at = text.find(mark, at + value.size())) {
            text.replace(at, mark.size(), value);
        }
    }
    return text;
}

} // namespace ripple::emit
