#pragma once

#include "bundle/score_bundle.h"

namespace ripple::bundle {

/// IMPORT.md of a score as code: from import to a moving mesh, also for who wires the operations by hand.
std::string scoreNotes(const ScoreManifest& manifest, const ScoreOnMesh& on);

} // namespace ripple::bundle
