#pragma once

#include "base/no_progress.h"

#include <filesystem>

namespace ripple::demo {

/// Computes the sources of the demo scenario (Gullwater Pier) and writes them to `folder`: awning_####.obj
/// with its material, heron.glb, crates.pc2 with its mesh, seven models that scores move, and a project for
/// each. The same on every run. Throws base::Failure.
void makeDemo(const std::filesystem::path& folder, base::Progress& progress);

/// The awning's canvas: `frames` OBJ files at 30 frames a second.
void makeAwning(const std::filesystem::path& folder, std::size_t frames, const base::Progress& progress);

/// The heron: skinned, with the clips stroll (closed), peck and preen (open). `detail`, 0..1: how many of its
/// 2 974 vertices it has along and around each part.
void makeHeron(const std::filesystem::path& file, float detail = 1.0f);

/// The crab: skinned, of few triangles, with the clips walk and run (closed; it goes toward +X) and wait
/// (closed).
void makeCrab(const std::filesystem::path& file);

/// The fender: three morph targets and one closed clip, nudge.
void makeFender(const std::filesystem::path& file);

/// A pennant of the bunting on its piece of rope, 2.2 m up.
void makeBunting(const std::filesystem::path& file);

/// A stack of crates that tumbles: crates.obj with its material, and `frames` frames in crates.pc2.
void makeCrates(const std::filesystem::path& folder, std::size_t frames, const base::Progress& progress);

/// What scores move; each a GLB without animation, +Y up, forward +Z, with a value stored at its vertices
/// that tells its pieces apart.
void makeBulrush(const std::filesystem::path& file);
void makeWindsock(const std::filesystem::path& file);
void makeSwell(const std::filesystem::path& file);
void makeSkate(const std::filesystem::path& file);
void makeGull(const std::filesystem::path& file);
void makeAnemone(const std::filesystem::path& file);
void makeLantern(const std::filesystem::path& file);

} // namespace ripple::demo
