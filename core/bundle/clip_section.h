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
/// Of each clip to each other.
nlohmann::ordered_json transitionsJson(const std::vector<bake::Transition>& transitions);
/// Those that are missing take the usual time.
std::vector<bake::Transition> parseTransitions(const base::JsonSection& root,
                                               std::span<const bake::BakedClip> clips);

/// Throws base::Failure for a clip that does not fit a texture of `frames` frames.
bake::BakedClip parseClip(const base::JsonSection& from, std::size_t frames);

} // namespace ripple::bundle
