#pragma once

#include "source/imported_scene.h"

#include <filesystem>
#include <span>
#include <string>

namespace Assimp {
class Importer;
}

namespace ripple::importer {

/// A scene file through the import library: the nodes' meshes that are called as `wanted` says (empty: all),
/// skins, clips and materials. Throws base::Failure; the library itself may do anything. `importer` holds the
/// library's own scene until it goes.
source::ImportedScene readScene(Assimp::Importer& importer, const std::filesystem::path& path,
                                std::span<const std::string> wanted);
source::ImportedScene readScene(const std::filesystem::path& path, std::span<const std::string> wanted);

/// The extensions of all files that the library reads: "*.3d;*.3ds;…".
std::string libraryExtensions();

} // namespace ripple::importer
