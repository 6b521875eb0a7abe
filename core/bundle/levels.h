#pragma once

#include "base/json_section.h"
#include "base/no_progress.h"
#include "base/problem.h"
#include "scatter/levels.h"

#include <filesystem>
#include <span>
#include <vector>

namespace tinygltf {
class Model;
}

namespace ripple::bake {
class TextureReader;
struct BakedClip;
} // namespace ripple::bake

namespace ripple::bundle {

constexpr std::size_t kMostLevels = 3;

/// A level of detail in a bundle's mesh: index lists over the same vertices, so that it reads the same
/// textures (docs/definitions.md §17).
struct LevelEntry {
    std::vector<std::size_t> accessors; ///< of the GLB: one of indices for each of the mesh's primitives
    std::size_t triangles = 0;
    double error = 0.0; ///< metres: the most, over all poses that were measured
    /// Metres from the eye beyond which the error covers less than a pixel, on a picture 1080 pixels high
    /// that shows 60 degrees from bottom to top.
    double distance = 0.0;
    bool operator==(const LevelEntry&) const = default;
};

/// Levels of the mesh in the poses that `reader` gives at some instants of each clip.
std::vector<scatter::Level> levelsOf(const mesh::Mesh& mesh, const bake::TextureReader& reader,
                                     std::span<const bake::BakedClip> clips, std::size_t count,
                                     const base::Progress& progress = base::noProgress());

/// Adds to a model of the mesh, for each level, a mesh that no node shows: the attributes are those of the
/// first. What the manifest says of them.
std::vector<LevelEntry> addLevels(const mesh::Mesh& mesh, std::span<const scatter::Level> levels,
                                  tinygltf::Model& model);

nlohmann::ordered_json levelsJson(std::span<const LevelEntry> levels);
/// Throws base::Failure.
std::vector<LevelEntry> parseLevels(const base::JsonSection& root);

/// What is wrong with the levels in a bundle's GLB: accessors that are none, indices of no vertex, counts
/// that the manifest does not say.
std::vector<base::Problem> problemsOfLevels(const std::filesystem::path& glb,
                                            std::span<const LevelEntry> levels);

} // namespace ripple::bundle
