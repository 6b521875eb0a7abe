#pragma once

#include "source/reading.h"
#include "source/scene.h"
#include "source/scene_animation.h"

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace ripple::source {

/// A scene file as its reader took it apart: glTF's conventions (metres, +Y up, counter-clockwise faces),
/// unless `space` says otherwise.
struct Scene {
    std::string file; ///< its name, for problems
    std::string format;
    std::vector<std::filesystem::path> files;
    std::vector<SceneNode> nodes;
    SceneGeometry geometry;
    std::vector<SceneAnimation> animations;
    Space space; ///< what the file's numbers were in; nodes are in metres and +Y up all the same
    base::Findings findings;
};

/// Plays a scene: morphs, then skins or node transforms. Takes subdivisions, influences and mirrored faces of
/// `reading`; the rest is Adjusted's.
std::shared_ptr<const FrameSource> playScene(Scene scene, const Reading& reading);

} // namespace ripple::source
