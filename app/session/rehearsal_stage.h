#pragma once

#include "app/session/ship_stage.h"
#include "bundle/rehearsal.h"

#include <map>
#include <string>
#include <vector>

namespace ripple::app {

/// What mistakes at import would do to what is shipped, a bake or a score as code: of each alone while
/// somebody looks at the list, and of those that were chosen together, with what is to be drawn then.
class RehearsalStage : public Computed {
    Q_OBJECT
public:
    RehearsalStage(PerformanceStage& performance, BakeStage& bake, const ShipStage& shipment);

    /// There is something whose faults can be tried.
    bool ready() const;
    /// Something else is shipped, or otherwise.
    void choicesChanged();

    /// By the faults' ids; grows while aloneJob() runs.
    const std::map<std::string, bundle::Rehearsed>& alone() const { return alone_; }
    const std::vector<std::string>& chosen() const { return chosen_; }
    /// None: shows what is right.
    void choose(std::vector<std::string> ids);
    /// What the chosen ones do at once; none until it is worked out.
    const std::optional<bundle::Rehearsed>& together() const { return together_; }
    /// What is decoded instead of the bake, where all that is chosen lies in the data of one; else null.
    std::shared_ptr<const bake::Baked> spoilt() const { return spoilt_; }
    /// What is played beside what is right, where that is another; else null.
    std::shared_ptr<const bundle::Played> played() const { return played_; }

    /// Whoever shows the list says so: what it holds is only worked out while it is seen.
    void want(bool wanted);
    void startIfWanted();
    LatestJob& aloneJob() { return aloneJob_; }
    std::vector<LatestJob*> jobs() override { return {&aloneJob_, &chosenJob_}; }

Q_SIGNALS:
    void changed();

protected:
    void clear() override;
    void outdate() override { clear(); }

private:
    struct Shipped;
    std::shared_ptr<Shipped> shipped() const;
    void startChosen();

    PerformanceStage& performance_;
    BakeStage& bake_;
    const ShipStage& shipment_;
    std::optional<bundle::ScoreChoices> choices_; ///< that what is known is of; none: of a bake
    bool wanted_ = false;
    std::map<std::string, bundle::Rehearsed> alone_;
    std::vector<std::string> chosen_;
    std::optional<bundle::Rehearsed> together_;
    std::shared_ptr<const bake::Baked> spoilt_;
    std::shared_ptr<const bundle::Played> played_;
    LatestJob aloneJob_;
    LatestJob chosenJob_;
};

} // namespace ripple::app
