#include "app/session/rehearsal_stage.h"

#include "base/progress.h"

#include <algorithm>

namespace ripple::app {

namespace {

std::vector<const bundle::Fault*> faultsOf(const std::vector<std::string>& ids) {
    std::vector<const bundle::Fault*> faults;
    for (const std::string& id : ids) {
        faults.push_back(&bundle::faultNamed(id));
    }
    return faults;
}

} // namespace

RehearsalStage::RehearsalStage(PerformanceStage& performance, BakeStage& bake)
    : Computed(&bake),
      performance_(performance),
      bake_(bake) {
    connect(&bake.job(), &LatestJob::runningChanged, &aloneJob_, &LatestJob::hold); // the bake is waited for
}

void RehearsalStage::clear() {
    alone_.clear();
    together_.reset();
    spoilt_.reset();
    Q_EMIT changed();
}

void RehearsalStage::want(bool wanted) {
    wanted_ = wanted;
    if (wanted) {
        startIfWanted();
    } else {
        aloneJob_.cancel();
    }
}

void RehearsalStage::startIfWanted() {
    if (!performance_.source() || !bake_.result() || bake_.job().running()) {
        return; // the next bake starts it
    }
    startChosen();
    if (!wanted_ || aloneJob_.running() || alone_.size() == bundle::faults().size()) {
        return;
    }
    using Done = bool;
    aloneJob_.startTelling<Done>(
        [this, source = performance_.source(), state = bake_.result()](base::Progress& progress,
                                                                       const LatestJob::Tell& tell) -> Done {
            const mesh::Mesh mesh = state->baked.shippedMesh(source->mesh());
            std::size_t done = 0;
            for (const bundle::Fault& fault : bundle::faults()) {
                const bundle::Fault* const one = &fault;
                const bundle::Rehearsed alone = bundle::rehearse(
                    {state->baked.textures, state->baked.columnOfVertex, mesh}, {&one, 1}, progress);
                progress.report(static_cast<double>(++done) / static_cast<double>(bundle::faults().size()));
                tell([this, one, alone] { // done only while this is there and at it
                    alone_[one->id] = alone;
                    Q_EMIT changed();
                });
            }
            return true;
        },
        [this](Done) { Q_EMIT changed(); }, [this](const base::Problem&) { Q_EMIT changed(); });
}

void RehearsalStage::choose(std::vector<std::string> ids) {
    if (ids == chosen_) {
        return;
    }
    chosen_ = std::move(ids);
    together_.reset();
    if (chosen_.empty()) {
        chosenJob_.cancel();
        spoilt_.reset();
    }
    Q_EMIT changed();
    startIfWanted();
}

void RehearsalStage::startChosen() {
    if (chosen_.empty() || together_) {
        return;
    }
    struct Result {
        std::shared_ptr<const bake::Baked> spoilt;
        bundle::Rehearsed seen;
    };
    chosenJob_.start<Result>(
        [faults = faultsOf(chosen_), source = performance_.source(),
         state = bake_.result()](base::Progress& progress) {
            const mesh::Mesh mesh = state->baked.shippedMesh(source->mesh());
            Result result;
            if (std::ranges::any_of(faults,
                                    [](const bundle::Fault* fault) { return bundle::isDrawn(*fault); })) {
                result.spoilt =
                    std::make_shared<const bake::Baked>(bundle::spoiltBake(state->baked, mesh, faults));
            }
            result.seen = bundle::rehearse({state->baked.textures, state->baked.columnOfVertex, mesh}, faults,
                                           progress);
            return result;
        },
        [this](Result result) {
            spoilt_ = std::move(result.spoilt);
            together_ = std::move(result.seen);
            Q_EMIT changed();
        },
        [this](const base::Problem&) { Q_EMIT changed(); });
}

} // namespace ripple::app
