#pragma once

#include "source/open.h"
#include "source/scene_source.h"

#include <filesystem>
#include <memory>
#include <string>

namespace ripple::source {

// Clips of further files (Reading::clipFiles) on one mesh or skeleton.

/// Where a clip file is: its name in a Reading counts from the folder of the source.
std::filesystem::path clipFileAt(const std::filesystem::path& source, const std::string& clipFile);
/// The other way: the name of `file` in a Reading of `source`.
std::string clipFileName(const std::filesystem::path& source, const std::filesystem::path& file);

/// Adds the animations of each clip file to a scene: what they move is found by the names of nodes. What such
/// a file leaves still but has in another place at rest is put there as well. Throws base::Failure that names
/// the joints which the scene has not, or has under other parents.
void takeClipFiles(Scene& scene, const std::filesystem::path& path, const OpenRequest& request,
                   const base::Progress& progress);
/// One file of those; `animated` is its scene, which needs no mesh. For tests.
void takeMotion(Scene& scene, Scene animated);

/// A sequence or point cache with the clips of further ones, which move the same vertices. Throws
/// base::Failure that names the counts which differ.
std::shared_ptr<const FrameSource> withClipFiles(std::shared_ptr<const FrameSource> source,
                                                 const std::filesystem::path& path,
                                                 const OpenRequest& request, const base::Progress& progress);

} // namespace ripple::source
