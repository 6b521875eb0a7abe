#pragma once

#include "source/imported_scene.h"

namespace ripple::source {

/// True if every index, range, count and enumeration of the scene is one that can be, so that playing it
/// touches nothing outside it, and every number is finite.
bool isSound(const ImportedScene& scene);

} // namespace ripple::source
