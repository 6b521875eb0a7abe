#pragma once

#include "analytic_source.h"
#include "bake/recipe.h"
#include "base/files.h"
#include "bundle/write_bundle.h"
#include "problem_of.h"

#include <filesystem>
#include <map>
#include <string>

namespace ripple::tests {

/// The files of a folder by name, with what is in them.
inline std::map<std::string, std::string> filesIn(const std::filesystem::path& folder) {
    std::map<std::string, std::string> files;
    for (const auto& entry : std::filesystem::directory_iterator(folder)) {
        if (entry.is_regular_file()) {
            files[entry.path().filename().string()] = std::string(base::asText(base::readFile(entry.path())));
        }
    }
    return files;
}

inline std::size_t entriesIn(const std::filesystem::path& folder) {
    return static_cast<std::size_t>(
        std::distance(std::filesystem::directory_iterator(folder), std::filesystem::directory_iterator()));
}

/// A wave of one second at twelve frames, on 24 × 24 vertices.
inline const AnalyticSource& sheet() {
    static const AnalyticSource source(24, timed(1.0, 12.0), wave(1.0));
    return source;
}

inline bake::Recipe recipeOf(const std::string& store) {
    bake::Recipe recipe;
    recipe.positionStore = store;
    recipe.maxWidth = 200;
    return recipe;
}

inline bundle::Manifest writeTo(const std::filesystem::path& to, const bake::Recipe& recipe,
                                const source::FrameSource& source = sheet()) {
    base::Progress progress;
    return bundle::writeBundle(source, recipe, {}, to, progress);
}

/// What is wrong with writing there; an empty problem if nothing is.
inline base::Problem writingTo(const std::filesystem::path& to, const std::string& store = "half") {
    return problemOf([&] { writeTo(to, recipeOf(store)); });
}

} // namespace ripple::tests
