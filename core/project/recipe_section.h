#pragma once

#include "bake/recipe.h"
#include "base/json_section.h"

#include <cstddef>

#include <nlohmann/json.hpp>

namespace ripple::project {

constexpr const char* kAdvice = "correct it by hand or start a new project";

/// A number of at least 1. Throws base::Failure for others.
std::size_t positive(const base::JsonSection& section, const char* key, std::size_t otherwise);

/// The recipe as part of a document.
nlohmann::ordered_json recipeJson(const bake::Recipe& recipe);
/// The other way; what is missing is as in a default Recipe. Throws base::Failure for odd values.
bake::Recipe parseRecipe(const base::JsonSection& section);

} // namespace ripple::project
