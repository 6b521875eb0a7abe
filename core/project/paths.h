#pragma once

#include "base/json_section.h"

#include <filesystem>
#include <string>

#include <nlohmann/json.hpp>

namespace ripple::project {

/// Relative to a folder where it lies below or beside it, as a document holds paths; empty stays empty.
std::string relative(const std::string& path, const std::filesystem::path& folder);
std::string absolute(const std::string& path, const std::filesystem::path& folder);

/// Paths are bytes and JSON is text: one that is no UTF-8 is written percent-encoded, under another key.
void putPath(nlohmann::ordered_json& json, const std::string& key, const std::string& path);
std::string pathIn(const base::JsonSection& section, const std::string& key);

/// Absolute, without dots.
std::filesystem::path whole(const std::filesystem::path& folder);

} // namespace ripple::project
