#include "app/session/scatter_stage.h"

#include "bundle/stored_masks.h"
#include "scatter/merge_loss.h"

#include <utility>

namespace ripple::app {

namespace {

bool standsAlike(const scatter::Choices& a, const scatter::Choices& b) {
    return a.placement == b.placement && a.differences == b.differences && a.ground == b.ground;
}

bool isMadeAlike(const scatter::Asset& a, const scatter::Asset& b) {
    return a.source == b.source && a.frames == b.frames && a.performance == b.performance &&
           a.clips == b.clips;
}

bool measuresAlike(const ScatterState& a, const ScatterState& b) {
    return isMadeAlike(a.asset, b.asset) && a.score == b.score && a.choices.levels == b.choices.levels &&
           a.choices.mix == b.choices.mix;
}

/// How far merged copies are off with what is kept of their pivots.
double lossOf(const ScatterState& state) {
    const scatter::Choices& choices = state.choices;
    if (!state.score) {
        return scatter::mergeLoss(state.asset, state.placed.copies, choices.keeps);
    }
    return scatter::mergeLoss(*state.asset.performance, *state.played, state.placed.copies, choices.keeps);
}

} // namespace

ScatterStage::ScatterStage(const project::Document& document, PerformanceStage& performance, BakeStage& bake)
    : Computed(&bake),
      document_(document),
      performance_(performance),
      bake_(bake) {}

void ScatterStage::clear() {
    problem_.reset();
    if (std::exchange(result_, nullptr)) {
        Q_EMIT changed();
    }
}

void ScatterStage::want(bool wanted) {
    wanted_ = wanted;
    if (wanted) {
        startIfWanted();
    } else {
        job_.cancel();
    }
}

scatter::Asset ScatterStage::asset() const {
    scatter::Asset asset;
    asset.source = performance_.source();
    if (const auto bake = bake_.result()) {
        asset.frames = bake->frames;
        asset.clips = bake->baked.textures.clips;
        asset.transitions = document_.recipe.transitions;
    }
    if (!performance_.scoreOnTop()) {
        asset.performance = performance_.performance();
    }
    if (asset.performance) {
        asset.score = std::make_shared<const motion::Score>(performance_.score());
        asset.loopSeconds = performance_.score().loopSeconds;
    }
    return asset;
}

void ScatterStage::startIfWanted() {
    if (!wanted_ || !performance_.source()) {
        return;
    }
    auto next = std::make_shared<ScatterState>();
    next->choices = document_.scatter;
    next->asset = asset();
    next->score = scatter::playsScore(next->choices, next->asset);
    if (!next->score && next->asset.clips.empty()) {
        return; // the bake that is on its way starts it
    }
    if (result_ && !problem_ && result_->choices == next->choices &&
        isMadeAlike(result_->asset, next->asset) && result_->asset.transitions == next->asset.transitions) {
        return;
    }
    using Result = std::shared_ptr<const ScatterState>;
    job_.start<Result>(
        [next, before = result_](base::Progress& progress) -> Result {
            next->placed = before && standsAlike(before->choices, next->choices)
                               ? before->placed
                               : scatter::place(next->choices);
            progress.checkpoint();
            next->measured = before && measuresAlike(*before, *next)
                                 ? before->measured
                                 : scatter::measure(next->choices, next->asset, progress);
            next->crowd = scatter::crowdOf(next->choices, next->asset, next->measured);
            progress.checkpoint();
            next->played = next->score ? next->asset.performance : nullptr;
            if (next->score && next->choices.merged && next->choices.keeps == scatter::Keeps::masks) {
                next->played =
                    bundle::storeMasks(*next->asset.score, next->asset.source->mesh(), *next->played)
                        .performance;
            }
            if (next->choices.merged) {
                next->mergeLoss = lossOf(*next);
            }
            return next;
        },
        [this](Result state) {
            result_ = std::move(state);
            problem_.reset();
            Q_EMIT changed();
        },
        [this](base::Problem problem) {
            problem_ = std::move(problem); // what stood there before stays
            Q_EMIT changed();
        });
}

} // namespace ripple::app
