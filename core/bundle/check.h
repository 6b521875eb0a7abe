#pragma once

#include "base/no_progress.h"
#include "bundle/manifest.h"
#include "source/frame_source.h"

#include <filesystem>
#include <optional>
#include <vector>

namespace ripple::bundle {

struct ClipCheck {
    std::string name;
    std::size_t frames = 0;
    bool closed = false;
    double seamGap = 0.0; ///< metres, of the decoded frames (bake::seamGap)
};

/// What a bundle's files hold, measured by reading them as an engine would.
struct CheckReport {
    std::vector<base::Problem> problems; ///< empty: the bundle is sound
    std::vector<ClipCheck> clips;
    std::optional<bake::ErrorReport> error; ///< when there was a source to compare with
    double allowedAtFrames = 0.0;           ///< metres: what the store may lose at kept frames
    std::size_t fileBytes = 0;
    std::size_t textureMemory = 0;

    bool ok() const { return problems.empty(); }
};

/// Reads the bundle's files again: sizes and digests, layout, lookup UVs, finite values; with a source also
/// positions and normals against it (docs/definitions.md §6). What is wrong with the bundle is in the report;
/// a source that does not fit it as well. Throws only base::Cancelled.
CheckReport check(const std::filesystem::path& directory, const source::FrameSource* against,
                  const base::Progress& progress = base::noProgress());

/// How the source that a bundle was made from was opened, and the score that moved it.
Origin originOf(const std::filesystem::path& directory);

} // namespace ripple::bundle
