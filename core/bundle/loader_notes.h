#pragma once

#include "bundle/manifest.h"

#include <string>

namespace ripple::bundle {

/// IMPORT.md's part on what loaders rename, turn and convert unless they are told; `textures`: the bundle has
/// some; `colours`: its code reads vertex colours. `id`: names in the code begin with it.
std::string loaderNotes(const std::string& id, bool textures, bool colours = false);

/// IMPORT.md's part on how a client sees that it reads the bundle right. `name`: the bundle's; `call`: what
/// gives the pose, "heron_at_frame(…, clip, frame)".
std::string testNotes(const std::string& name, const std::string& call);

/// IMPORT.md's part on many copies of one mesh.
std::string copyNotes(const std::string& name, const std::string& id, bool score);

/// The page's row among the files; empty where there is none.
std::string pageLine(const ManifestHead& head);

/// Whom the bundle is written for, as a section.
std::string targetNotes(const Target& target, bool score);

} // namespace ripple::bundle
