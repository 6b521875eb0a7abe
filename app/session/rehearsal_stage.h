#pragma once

#include "app/session/bake_stage.h"
#include "bundle/rehearsal.h"

#include <map>
#include <string>
#include <vector>

namespace ripple::app {

/// What mistakes at import would do to the bake: of each alone while somebody looks at the list, and of those
/// that were chosen together, with the bake as they leave it.
class RehearsalStage : public Computed {
    Q_OBJECT
public:
    RehearsalStage(PerformanceStage& performance, BakeStage& bake);

    /// By the faults' ids; grows while aloneJob() runs.
    const std::map<std::string, bundle::Rehearsed>& alone() const { return alone_; }
    const std::vector<std::string>& chosen() const { return chosen_; }
    /// None: shows what is right.
    void choose(std::vector<std::string> ids);
    /// What the chosen ones do at once; none until it is worked out.
    const std::optional<bundle::Rehearsed>& together() const { return together_; }
    /// What is drawn instead of the bake; null while nothing that shows in it is chosen.
    std::shared_ptr<const bake::Baked> spoilt() const { return spoilt_; }

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
    void startChosen();

    PerformanceStage& performance_;
    BakeStage& bake_;
    bool wanted_ = false;
    std::map<std::string, bundle::Rehearsed> alone_;
    std::vector<std::string> chosen_;
    std::optional<bundle::Rehearsed> together_;
    std::shared_ptr<const bake::Baked> spoilt_;
    LatestJob aloneJob_;
    LatestJob chosenJob_;
};

} // namespace ripple::app
