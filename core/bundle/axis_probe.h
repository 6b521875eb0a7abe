#pragma once

#include "bundle/write_bundle.h"
#include "source/frame_source.h"

#include <filesystem>
#include <memory>

namespace ripple::bundle {

/// Three arrows of one metre from the origin along +X, +Y and +Z of glTF, each with its letter at the tip. In
/// its clip of 3 s they grow by a quarter of a metre and shrink again, X in the first second, Y in the second
/// and Z in the third.
///
/// An importer converts the mesh as it does any other, and the texture stays as it is. So the arrows show
/// where glTF's axes lie in the engine and how long a metre is there (targetByArrows()), and their growing
/// shows whether a target is right: then, and only then, each grows along itself.
std::shared_ptr<const source::FrameSource> axisProbe();

/// A bundle of it for a target. As writeBundle().
Manifest writeAxisProbe(const std::filesystem::path& directory, const Target& target,
                        base::Progress& progress);

} // namespace ripple::bundle
