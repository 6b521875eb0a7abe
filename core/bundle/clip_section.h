#pragma once

#include "base/json_section.h"
#include "bundle/manifest.h"

#include <nlohmann/json.hpp>

namespace ripple::bundle {

// Parts of the manifest that are objects of their own.

nlohmann::ordered_json boundsJson(const mesh::Bounds& bounds);
mesh::Bounds parseBounds(const base::JsonSection& from);

/// One of manifest.textures.clips.
nlohmann::ordered_json clipJson(const Manifest& manifest, std::size_t index);
/// Throws base::Failure for a clip that does not fit a texture of `frames` frames.
bake::BakedClip parseClip(const base::JsonSection& from, std::size_t frames);

} // namespace ripple::bundle
