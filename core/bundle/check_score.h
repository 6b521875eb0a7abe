#pragma once

#include "bundle/check.h"
#include "bundle/score_manifest.h"

namespace ripple::bundle {

/// True if the folder holds a score as code; false also where no manifest can be read.
bool holdsScore(const std::filesystem::path& directory);

/// The manifest of the folder, which holdsScore(). Throws base::Failure.
ScoreManifest readScoreManifest(const std::filesystem::path& directory);

/// check() of a score as code: files, the numbers that its code states, and what the score makes of the
/// inputs as the mesh holds them: within its bounds, and, with a source, what the score makes of that.
CheckReport checkScore(const std::filesystem::path& directory, const source::FrameSource* against,
                       const base::Progress& progress);

} // namespace ripple::bundle
