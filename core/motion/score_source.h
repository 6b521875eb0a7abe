#pragma once

#include "motion/perform.h"
#include "motion/score.h"
#include "source/frame_source.h"

#include <memory>

namespace ripple::motion {

enum class Play {
    alone, ///< the rest pose moves by the score: one closed clip, of its loop length
    onTop, ///< each clip of the source goes on, and the score's displacement is added; its loop is stretched
           ///< so that a whole number of loops goes into what is played round, or into the whole clip
};

/// A mesh that a score moves, as a source of frames like any other. Throws base::Failure as composeScore()
/// does. sample() throws where a vertex goes to no number, naming it and the phase.
std::shared_ptr<const source::FrameSource> playScore(std::shared_ptr<const source::FrameSource> below,
                                                     const Score& score, Play play);
/// The same with a performance of that score that is there already.
std::shared_ptr<const source::FrameSource> playScore(std::shared_ptr<const source::FrameSource> below,
                                                     const Score& score,
                                                     std::shared_ptr<const Performance> performance,
                                                     Play play);

} // namespace ripple::motion
