#pragma once

#include "app/session/bake_stage.h"
#include "scatter/scene.h"

namespace ripple::app {

/// Copies of what is open, as they stand and as they are known. Never changes once made.
struct ScatterState {
    scatter::Choices choices;
    scatter::Asset asset;
    bool score = false; ///< they play the score as code, not the bake
    scatter::Placed placed;
    scatter::Measured measured;
    scatter::CrowdChoices crowd;
    /// Of a score: what plays it; of merged copies that keep their masks, from those. Else null.
    std::shared_ptr<const motion::Performance> played;
    std::optional<double> mergeLoss; ///< metres that merged copies are off by at most, where they are merged
};

/// Scatters copies as the document says. It is done only while somebody looks at them.
class ScatterStage : public Computed {
    Q_OBJECT
public:
    ScatterStage(const project::Document& document, PerformanceStage& performance, BakeStage& bake);

    /// Null until it was wanted, and while there is neither a bake nor a score to play.
    std::shared_ptr<const ScatterState> result() const { return result_; }
    const std::optional<base::Problem>& problem() const { return problem_; }
    LatestJob& job() { return job_; }
    std::vector<LatestJob*> jobs() override { return {&job_}; }

    void want(bool wanted);
    /// If it is wanted and there is none of what the document says by now.
    void startIfWanted();

Q_SIGNALS:
    void changed();

protected:
    void clear() override;
    void outdate() override {} // what stands there stays until there is a newer one

private:
    scatter::Asset asset() const;

    const project::Document& document_;
    PerformanceStage& performance_;
    BakeStage& bake_;
    std::shared_ptr<const ScatterState> result_;
    std::optional<base::Problem> problem_;
    bool wanted_ = false;
    LatestJob job_;
};

} // namespace ripple::app
