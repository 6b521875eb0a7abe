#pragma once

#include <cstddef>
#include <optional>
#include <string>

namespace ripple::bundle {

/// The UV set that a PlacedInput::from names: 2 of "TEXCOORD_2" and of "TEXCOORD_2.x"; none for other
/// attributes.
std::optional<std::size_t> uvSetOf(const std::string& attribute);

} // namespace ripple::bundle
