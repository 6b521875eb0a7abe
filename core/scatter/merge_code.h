#pragma once

#include "code/tree.h"
#include "scatter/merged.h"

namespace ripple::scatter {

/// How to play copies that were merged into one mesh (docs/definitions.md §15), as shader code: the record
/// NAME_pivot; NAME_pivot_of(…), of the UV pairs or of the colour that hold it; and the way from the merged
/// mesh to the copy's own space and back for places and directions: NAME_unmerged, NAME_unmerged_direction,
/// NAME_merged, NAME_merged_direction; NAME_pivot_axes for scores that ask for a copy's axes. What moves a
/// single copy then moves it in the merged mesh:
///     merged(pivot, at_turn(unmerged(pivot, position), …).position)
/// `keeps`: uvs or colours. `tilted`, `box`: as Merged says.
void addMergeCode(code::Module& module, Keeps keeps, bool tilted, const mesh::Bounds& box);

} // namespace ripple::scatter
