#pragma once

#include "bundle/score_bundle.h"
#include "emit/reader_code.h"
#include "motion/interpolation_loss.h"
#include "motion/time_loss.h"

#include <string>
#include <utility>
#include <vector>

namespace ripple::bundle {

/// What shipped code takes where it runs.
struct CodeCost {
    code::Cost pose;
    code::Cost velocity;                             ///< beside the pose, where it is called
    std::vector<std::pair<std::string, int>> voices; ///< of a score: instructions that each adds
    int handed = 0;                                  ///< numbers from the vertex to the pixel stage
    // Of a score that shifts the texture or cuts out.
    std::optional<emit::EitherStage> uvShift;
    std::optional<emit::EitherStage> alpha;
    motion::InterpolationLoss lost;     ///< where they are worked out per vertex
    double coverage = 0.0;              ///< pixels that are covered where the model is one pixel high
    bake::ErrorReport half;             ///< of a score: what half precision loses, chosen or not
    std::vector<motion::TimeLoss> time; ///< of a score, with seconds in floats
};

CodeCost costOfBake(const Manifest& manifest, const mesh::Mesh& mesh);
CodeCost costOfScore(const ScoreOnMesh& on, const ScoreChoices& choices, const mesh::Mesh& mesh,
                     const base::Progress& progress = base::noProgress());

} // namespace ripple::bundle
