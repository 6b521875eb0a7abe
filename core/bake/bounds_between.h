#pragma once

#include "bake/texture_reader.h"
#include "base/progress.h"
#include "mesh/bounds.h"

#include <span>
#include <vector>

namespace ripple::bake {

/// Bounds of all that is decoded from each clip, for bakes that leave those of their frames between them
/// (BakeFormat::leavesFrames). Of kinds whose parts turn: from five instants a step, widened by what arcs may
/// reach beyond the straight lines between those. Of others on cubic curves: exact, where the curves turn
/// round.
std::vector<mesh::Bounds> boundsBetween(const TextureReader& reader, std::span<const BakedClip> clips,
                                        const base::Progress& progress = base::noProgress());

/// By `by` metres, and by the rounding of rest + offset and of a blend in single precision.
void widen(mesh::Bounds& bounds, float by);

} // namespace ripple::bake
