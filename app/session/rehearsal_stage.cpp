#include "app/session/rehearsal_stage.h"

#include "base/progress.h"

#include <algorithm>

namespace ripple::app {

namespace {

using Faults = std::vector<const bundle::Fault*>;

Faults faultsOf(const std::vector<std::string>& ids) {
    Faults faults;
    for (const std::string& id : ids) {
        faults.push_back(&bundle::faultNamed(id));
    }
    return faults;
}

/// Of what is shipped as code; none: of a bake.
std::optional<bundle::ScoreChoices> codeChoices(const ShipStage& shipment) {
    return shipment.asCode() ? std::optional(shipment.choices()) : std::nullopt;
}

} // namespace

/// A bake, or a score as code: what faults are tried on. All but make() may be called by any thread.
struct RehearsalStage::Shipped {
    std::shared_ptr<const source::FrameSource> source;
    std::shared_ptr<const BakeState> bake; ///< null: the score
    motion::Score score;
    bundle::ScoreChoices choices;
    mesh::Mesh mesh;                       ///< of the bake, as it is shipped
    std::optional<bundle::ScoreOnMesh> on; ///< of the score

    /// What takes a while. Throws base::Failure: a score that has no room in the mesh.
    void make(const base::Progress& progress) {
        if (bake) {
            mesh = bake->baked.shippedMesh(source->mesh());
        } else {
            on = bundle::scoreOnMesh(score, source->mesh(), choices, progress);
        }
    }
    bundle::Staged staged() const { return {bake->baked.textures, bake->baked.columnOfVertex, mesh}; }
    bundle::StagedScore stagedScore() const {
        return {on->mesh.mesh, on->mesh.inputs, on->performance->composition(), on->score.loopSeconds};
    }
    bundle::Rehearsed rehearse(const Faults& faults, const base::Progress& progress) const {
        return bake ? bundle::rehearse(staged(), faults, progress)
                    : bundle::rehearse(stagedScore(), faults, progress);
    }
    std::shared_ptr<const bundle::Played> play(const Faults& faults) const {
        if (bake) {
            return std::make_shared<const bundle::PlayedBake>(staged(), faults);
        }
        return std::make_shared<const bundle::PlayedScore>(stagedScore(), faults);
    }
};

RehearsalStage::RehearsalStage(PerformanceStage& performance, BakeStage& bake, const ShipStage& shipment)
    : Computed(&bake),
      performance_(performance),
      bake_(bake),
      shipment_(shipment) {
    connect(&bake.job(), &LatestJob::runningChanged, &aloneJob_, &LatestJob::hold); // the bake is waited for
}

bool RehearsalStage::ready() const {
    return performance_.source() && (shipment_.asCode() || bake_.result());
}

std::shared_ptr<RehearsalStage::Shipped> RehearsalStage::shipped() const {
    auto shipped = std::make_shared<Shipped>();
    shipped->source = performance_.source();
    if (shipment_.asCode()) {
        shipped->score = performance_.score();
        shipped->choices = shipment_.choices();
    } else {
        shipped->bake = bake_.result();
    }
    return shipped;
}

void RehearsalStage::choicesChanged() {
    // Of a bake only its store and what is sampled matter, which is a bake anew.
    const auto now = codeChoices(shipment_);
    if (now != choices_) {
        aloneJob_.cancel();
        chosenJob_.cancel();
        clear();
        startIfWanted();
    }
}

void RehearsalStage::clear() {
    alone_.clear();
    together_.reset();
    spoilt_.reset();
    played_.reset();
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
    if (!ready() || (!shipment_.asCode() && bake_.job().running())) {
        return; // the next bake starts it
    }
    startChosen();
    if (!wanted_ || aloneJob_.running() || alone_.size() == bundle::faults().size()) {
        return;
    }
    choices_ = codeChoices(shipment_);
    using Done = bool;
    aloneJob_.startTelling<Done>(
        [this, shipped = shipped()](base::Progress& progress, const LatestJob::Tell& tell) -> Done {
            shipped->make(progress);
            std::size_t done = 0;
            for (const bundle::Fault& fault : bundle::faults()) {
                const bundle::Fault* const one = &fault;
                const bundle::Rehearsed alone = shipped->rehearse({one}, progress);
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
        played_.reset();
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
        std::shared_ptr<const bundle::Played> played;
        bundle::Rehearsed seen;
    };
    choices_ = codeChoices(shipment_);
    chosenJob_.start<Result>(
        [faults = faultsOf(chosen_), shipped = shipped()](base::Progress& progress) {
            shipped->make(progress);
            Result result;
            result.seen = shipped->rehearse(faults, progress);
            const bool inData = std::ranges::all_of(
                faults, [](const bundle::Fault* fault) { return bundle::spoilsData(*fault); });
            if (shipped->bake && inData) { // the shipped code decodes it
                result.spoilt = std::make_shared<const bake::Baked>(
                    bundle::spoiltBake(shipped->bake->baked, shipped->mesh, faults));
            } else if (result.seen.idle.size() < faults.size()) {
                result.played = shipped->play(faults);
            }
            return result;
        },
        [this](Result result) {
            spoilt_ = std::move(result.spoilt);
            played_ = std::move(result.played);
            together_ = std::move(result.seen);
            Q_EMIT changed();
        },
        [this](const base::Problem&) { Q_EMIT changed(); });
}

} // namespace ripple::app
