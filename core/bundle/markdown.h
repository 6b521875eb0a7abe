#pragma once

#include <string>

namespace ripple::bundle {

/// A name out of a file as Markdown text: what would be markup, or leave a table's cell, is not.
std::string asText(const std::string& name);
/// The same in a span of code, where only its fence and a cell's edge are markup.
std::string asCode(const std::string& name);

} // namespace ripple::bundle
