#pragma once

#include "app/session/bake_stage.h"
#include "bake/ladder.h"

namespace ripple::app {

/// What other ways to store would cost. It is made only while somebody looks at it.
class LadderStage : public Computed {
    Q_OBJECT
public:
    LadderStage(PerformanceStage& performance, BakeStage& bake);

    /// Null until it was wanted. Grows while its job runs.
    std::shared_ptr<const bake::Ladder> result() const { return result_; }
    LatestJob& job() { return job_; }
    std::vector<LatestJob*> jobs() override { return {&job_}; }

    void want(bool wanted);
    /// If it is wanted and there is none of what the recipe says by now.
    void startIfWanted();

Q_SIGNALS:
    void changed();

protected:
    void clear() override;
    void outdate() override { clear(); }

private:
    PerformanceStage& performance_;
    BakeStage& bake_;
    std::shared_ptr<const bake::Ladder> result_;
    std::optional<bake::Recipe> recipe_; ///< of result_, without what it varies
    bool wanted_ = false;
    LatestJob job_;
};

} // namespace ripple::app
