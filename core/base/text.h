#pragma once

#include <string>
#include <string_view>

namespace ripple::base {

/// Text of a file that should be UTF-8: as it is where it is valid, else each byte taken for a character of
/// Windows-1252 (ISO 8859-1 with printable signs at 0x80 to 0x9F), which is what old exporters write. Always
/// valid UTF-8.
std::string likelyUtf8(std::string_view text);

} // namespace ripple::base
