#pragma once

#include <string>

#include <nlohmann/json_fwd.hpp>

namespace ripple::source {

/// Throws base::Failure unless a glTF document says that it is of version 2.
void requireVersion(const nlohmann::json& root, const std::string& file);

/// Throws base::Failure for a required extension that is not read, by its name.
void requireReadableExtensions(const nlohmann::json& root, const std::string& file);

} // namespace ripple::source
