#pragma once

#include "source/open.h"
#include "source/scene_source.h"

#include <string>

namespace ripple::source {

/// The extensions of all scene files that the import library knows and no reader of ours takes.
const char* sceneFileExtensions();

/// A scene file through the import library, in a program of its own, with `request.trust.import` as its
/// limits and no access but reading the file's folder: skins, animated nodes, morph targets, several clips.
/// Vertices stay as the library gives them, none welded or reordered. Unit and up axis are taken from the
/// file where it states them. Throws base::Failure whatever becomes of that program; base::Cancelled.
std::shared_ptr<const FrameSource> openSceneFile(const std::filesystem::path& path,
                                                 const OpenRequest& request, const base::Progress& progress);

/// The scene of such a file, not yet played.
Scene sceneFileScene(const std::filesystem::path& path, const OpenRequest& request,
                     const base::Progress& progress);

} // namespace ripple::source
