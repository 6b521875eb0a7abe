#pragma once

#include "source/open.h"

#include <string>

namespace ripple::source {

/// The extensions of all scene files that the import library knows and no reader of ours takes.
std::string sceneFileExtensions();

/// A scene file through the import library: skins, animated nodes, morph targets, several clips. Vertices
/// stay as the library gives them, none welded or reordered. Unit and up axis are taken from the file where
/// it states them.
std::shared_ptr<const FrameSource> openSceneFile(const std::filesystem::path& path,
                                                 const OpenRequest& request, const base::Progress& progress);

} // namespace ripple::source
