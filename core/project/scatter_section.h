#pragma once

#include "base/json_section.h"
#include "scatter/choices.h"

#include <filesystem>

#include <nlohmann/json.hpp>

namespace ripple::project {

/// The choices of the Scatter bench as part of a document; paths are written relative to `folder`.
nlohmann::ordered_json scatterJson(const scatter::Choices& choices, const std::filesystem::path& folder);
/// The other way; what is missing is as in default Choices. Throws base::Failure for odd values.
scatter::Choices parseScatter(const base::JsonSection& section, const std::filesystem::path& folder);

} // namespace ripple::project
