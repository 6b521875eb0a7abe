#pragma once

#include "base/progress.h"

#include <filesystem>

namespace ripple::demo {

/// Computes the sources of the demo scenario (Gullwater Pier) and writes them to `folder`: awning_####.obj
/// with its material, heron.glb, and a project for each. The same on every run. Throws base::Failure.
void makeDemo(const std::filesystem::path& folder, base::Progress& progress);

/// The awning's canvas: `frames` OBJ files at 30 frames a second.
void makeAwning(const std::filesystem::path& folder, std::size_t frames, const base::Progress& progress);

/// The heron: skinned, with the clips stroll (closed), peck and preen (open).
void makeHeron(const std::filesystem::path& file);

} // namespace ripple::demo
