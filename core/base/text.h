#pragma once

#include <span>
#include <string>
#include <string_view>

namespace ripple::base {

/// Text of a file that should be UTF-8: as it is where it is valid, else each byte taken for a character of
/// Windows-1252 (ISO 8859-1 with printable signs at 0x80 to 0x9F), which is what old exporters write. Always
/// valid UTF-8.
std::string likelyUtf8(std::string_view text);

/// Bytes as ASCII: letters, digits and "/._-" stay, every other byte becomes % and two hexadecimal digits
/// (RFC 3986, section 2.1). For paths, which on Linux need not be text.
std::string percentEncoded(std::string_view bytes);
/// The other way; a % that no two digits follow stays.
std::string percentDecoded(std::string_view text);

/// "hip, knee, tail and 3 more": the first three, and how many follow.
std::string listed(std::span<const std::string> names);

} // namespace ripple::base
