#pragma once

// What the manifests of all bundles share; not for use outside this folder.

#include "base/json_section.h"
#include "bundle/manifest.h"

#include <nlohmann/json.hpp>

namespace ripple::bundle {

/// The newest version that is written and read; 3 knows no other axes and units.
constexpr int kManifestVersion = 4;
/// No number of files, vertices, frames or bytes in a manifest is this large.
constexpr std::size_t kMostCounted = std::size_t{1} << 40;

/// Format, version, generator, name, convention and mesh.
void beginManifest(nlohmann::ordered_json& root, int version, const ManifestHead& head);
nlohmann::ordered_json filesJson(const std::vector<FileEntry>& files);
/// The text, whose last key is its own digest.
std::string sealed(nlohmann::ordered_json root);

/// Throw base::Failure: not JSON; no manifest, or one of a version above `newest`.
nlohmann::ordered_json parsedJson(const std::string& text, const std::string& where);
void requireFormat(const base::JsonSection& root, std::size_t newest);
/// Of a score as code (score_manifest.h), not of a bake.
bool isScore(const base::JsonSection& root);
/// Generator, name, mesh, bounds, files and doubts; `text` is what `root` was read from.
void readHead(const std::string& text, const base::JsonSection& root, ManifestHead& head);

} // namespace ripple::bundle
