#pragma once

#include "base/no_progress.h"
#include "bundle/fault.h"
#include "bundle/played_bake.h"
#include "bundle/played_score.h"

#include <filesystem>
#include <span>
#include <string>
#include <vector>

namespace ripple::bundle {

/// What faults do to a bundle, all of them at once.
struct Rehearsed {
    double metres = 0.0;     ///< the largest distance of a vertex from where it belongs
    double degrees = 0.0;    ///< the largest angle of a normal
    double overhang = 0.0;   ///< restBounds: how far the mesh leaves the bounds that it is culled by, metres
    std::string worstClip;   ///< of a score empty
    double worstFrame = 0.0; ///< of a score the turn, 0..1
    /// Faults that this bundle can't have, with why.
    std::vector<std::string> idle;
};

/// Plays frames of all clips, some between stored ones, or instants of a score's loop, right and wrong.
/// Throws base::Failure for a score whose inputs are not there, and base::Cancelled.
Rehearsed rehearse(const Staged& staged, std::span<const Fault* const> chosen,
                   const base::Progress& progress = base::noProgress());
Rehearsed rehearse(const StagedScore& staged, std::span<const Fault* const> chosen,
                   const base::Progress& progress = base::noProgress());
Rehearsed rehearse(const Bundle& bundle, std::span<const Fault* const> chosen,
                   const base::Progress& progress = base::noProgress());

/// The same of two scores that are played: of the same mesh, but for what a client made of it.
Rehearsed comparePlayed(const PlayedScore& right, const PlayedScore& wrong,
                        const base::Progress& progress = base::noProgress());

/// Writes the bundle's files as the chosen faults leave them, those that they change, under their own names,
/// to a folder that is made if need be; the bundle's own folder is refused. Throws base::Failure. How many
/// files.
std::size_t writeSpoilt(const Bundle& bundle, const std::filesystem::path& own,
                        std::span<const Fault* const> chosen, const std::filesystem::path& folder);
std::size_t writeSpoilt(const ScoreBundle& bundle, const std::filesystem::path& own,
                        std::span<const Fault* const> chosen, const std::filesystem::path& folder);

} // namespace ripple::bundle
