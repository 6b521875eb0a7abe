#pragma once

#include <string>

namespace ripple::emit {

/// `name` as a shader identifier: letters, digits and single underscores, not starting with a digit.
std::string identifier(const std::string& name);

} // namespace ripple::emit
