#pragma once

#include "base/progress.h"
#include "source/frame_source.h"

#include <filesystem>
#include <memory>

namespace ripple::source {

struct OpenOptions;

/// glTF 2.0 (.gltf with its files, or .glb): skins, node transforms, morph targets and all animations as
/// clips.
std::shared_ptr<const FrameSource> openGltf(const std::filesystem::path& path, const OpenOptions& options,
                                            const base::Progress& progress);

} // namespace ripple::source
