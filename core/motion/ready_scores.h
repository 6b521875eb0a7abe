#pragma once

#include "mesh/bounds.h"
#include "motion/compose_score.h"

#include <span>

namespace ripple::motion {

/// A score to begin with, made to the measure of a model. To add one, write its function and a row in
/// ready_scores.cpp.
struct ReadyScore {
    const char* id;
    const char* name;
    const char* words;     ///< what it is and where it comes from, in a sentence
    const char* demoModel; ///< the demo's model that it is shown on
    Score (*make)(const mesh::Bounds& rest, const Model& model);
};

std::span<const ReadyScore> readyScores();

/// What ready-made scores are measured by: the rest bounds, flat ones with a little depth, for waves and
/// spans have a length in every direction.
mesh::Bounds boundsForReady(const mesh::Mesh& mesh);

/// The score with its name, words and voices numbered, for a model.
Score makeReady(const ReadyScore& ready, const mesh::Mesh& mesh);

} // namespace ripple::motion
