#pragma once

#include "bundle/manifest.h"

#include <nlohmann/json.hpp>

namespace ripple::bundle {

class Section;

// Parts of the manifest that are objects of their own.

nlohmann::ordered_json vec3(const glm::vec3& v);

nlohmann::ordered_json boundsJson(const mesh::Bounds& bounds);
mesh::Bounds parseBounds(const Section& from);

/// One of manifest.textures.clips.
nlohmann::ordered_json clipJson(const Manifest& manifest, std::size_t index);
/// Throws base::Failure for a clip that does not fit a texture of `frames` frames.
bake::BakedClip parseClip(const Section& from, std::size_t frames);

} // namespace ripple::bundle
