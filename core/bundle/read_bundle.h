#pragma once

#include "bundle/manifest.h"
#include "mesh/mesh.h"

#include <cstdint>
#include <filesystem>
#include <vector>

namespace ripple::bundle {

/// A bundle as a reader gets it: from its files alone.
struct Bundle {
    Manifest manifest;
    bake::TextureSet textures;                 ///< manifest.textures with their pixels, and pivots
    mesh::Mesh mesh;                           ///< rest pose and all UV sets, the lookup among them
    std::vector<std::uint32_t> columnOfVertex; ///< from the mesh's lookup UVs

    bake::TextureReader reader() const { return {textures, columnOfVertex, mesh.positions, mesh.normals}; }
};

/// The only *.bundle.json in the folder. Throws base::Failure.
std::filesystem::path manifestFile(const std::filesystem::path& directory);
/// A file of the folder; throws base::Failure for a name that leads out of it.
std::filesystem::path insideBundle(const std::filesystem::path& directory, const std::string& file);

/// The manifest of the folder `directory`. Throws base::Failure.
Manifest readManifest(const std::filesystem::path& directory);

/// Reads all files. Throws base::Failure: missing or damaged files, sizes that do not fit the manifest,
/// lookup UVs that point outside the texture.
Bundle readBundle(const std::filesystem::path& directory);

/// The same with a manifest that is not written yet.
Bundle readBundle(const std::filesystem::path& directory, Manifest manifest);

} // namespace ripple::bundle
