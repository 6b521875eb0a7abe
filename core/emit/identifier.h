#pragma once

#include <string>
#include <vector>

namespace ripple::emit {

/// `name` as a shader identifier: letters, digits and single underscores, not starting with a digit.
std::string identifier(const std::string& name);

/// Throws base::Failure for a parameter's name that is empty, means something else in one of the languages,
/// or is spelled in code as one of `taken`, which are spelled so already.
void requireParameterName(const std::string& name, const std::vector<std::string>& taken);

} // namespace ripple::emit
