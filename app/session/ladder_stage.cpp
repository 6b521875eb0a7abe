#include "app/session/ladder_stage.h"

namespace ripple::app {

namespace {

/// The part of a recipe that a ladder does not vary.
bake::Recipe fixedPart(bake::Recipe recipe) {
    const bake::Recipe plain;
    recipe.kind = plain.kind;
    recipe.shapes = plain.shapes;
    recipe.content = plain.content;
    recipe.positionStore = plain.positionStore;
    recipe.step = plain.step;
    recipe.thin = plain.thin;
    recipe.oversampling = plain.oversampling;
    recipe.blend = plain.blend;
    // Names, and what players do, take no memory.
    recipe.transitions.clear();
    for (bake::ClipChoice& clip : recipe.clips) {
        clip = {clip.name, clip.window, clip.closing, {}, clip.fps, {}, {}};
    }
    return recipe;
}

} // namespace

LadderStage::LadderStage(PerformanceStage& performance, BakeStage& bake)
    : Computed(&bake),
      performance_(performance),
      bake_(bake) {
    connect(&bake.job(), &LatestJob::runningChanged, &job_, &LatestJob::hold); // the bake is waited for
}

void LadderStage::clear() {
    result_.reset();
    recipe_.reset();
}

void LadderStage::want(bool wanted) {
    wanted_ = wanted;
    if (wanted) {
        startIfWanted();
    } else {
        job_.cancel();
    }
}

void LadderStage::startIfWanted() {
    if (!wanted_ || !performance_.source() || !bake_.result() || bake_.job().running()) {
        return; // the next bake starts it
    }
    const bake::Recipe recipe = fixedPart(performance_.recipe());
    const bool same = recipe_ && *recipe_ == recipe;
    if (same && (job_.running() || (result_ && result_->complete()))) {
        return;
    }
    recipe_ = recipe;
    result_.reset();
    using Result = std::shared_ptr<const bake::Ladder>;
    job_.startTelling<Result>(
        [this, source = performance_.source(), state = bake_.result(),
         recipe](base::Progress& progress, const LatestJob::Tell& tell) -> Result {
            const bake::EarlierPoses known{&state->plan, state->frames.get()};
            const auto onPart = [&](Result part) {
                tell([this, part] { // done only while this is there and at it
                    result_ = part;
                    Q_EMIT changed();
                });
            };
            return bake::climbLadder(*source, recipe, {}, progress, onPart, known);
        },
        [this](Result ladder) {
            result_ = std::move(ladder);
            Q_EMIT changed();
        },
        [this](base::Problem) {
            result_.reset(); // the bake says what is wrong
            Q_EMIT changed();
        });
    Q_EMIT changed();
}

} // namespace ripple::app
