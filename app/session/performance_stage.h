#pragma once

#include "app/session/source_stage.h"
#include "mesh/bounds.h"
#include "motion/loop_bounds.h"
#include "motion/density.h"
#include "motion/folds.h"

#include <QTimer>

namespace ripple::app {

/// What moves: the source, by the document's score if there is one; and what the score does to the mesh.
class PerformanceStage : public Computed {
    Q_OBJECT
public:
    /// Both must outlive this.
    PerformanceStage(const project::Document& document, SourceStage& source);

    /// Null while nothing is open.
    std::shared_ptr<const source::FrameSource> source() const { return moved_.source; }
    std::shared_ptr<const motion::Performance> performance() const { return moved_.performance; }
    /// The score that moves it: for a moment an earlier one than the document's, while that is being played.
    const motion::Score& score() const { return moved_.score; }
    bool scoreOnTop() const { return moved_.scoreOnTop; }
    const std::optional<base::Problem>& problem() const { return moved_.problem; }
    const bake::SamplePlan* plan() const { return moved_.plan ? &*moved_.plan : nullptr; }
    /// A bake has made the plan of another recipe.
    void takePlan(bake::SamplePlan plan) { moved_.plan = std::move(plan); }
    /// The document's recipe without clips that what moves does not have.
    bake::Recipe recipe() const;

    const std::vector<motion::Density>& densities() const { return densities_; }
    const std::optional<motion::LoopBounds>& loopBounds() const { return loopBounds_; }
    const std::optional<motion::Folds>& folds() const { return folds_; }

    std::vector<LatestJob*> jobs() override { return {&playJob_, &densitiesJob_, &boundsJob_, &foldsJob_}; }
    /// Something that follows a change of the score at once is on its way.
    bool working() const { return playJob_.running() || densitiesJob_.running(); }

    /// Takes what was played while the source was opened. False if the document's score is another by now.
    bool takeOpened();
    /// The score is another. Small meshes are played at once, others in the background: played() follows.
    void play();
    /// What takes longer, once a change has come to rest.
    void measure();

Q_SIGNALS:
    /// What moves is another; what is below was outdated.
    void played();
    void densitiesMeasured();
    void foldsMeasured();
    void loopBounded();

protected:
    void clear() override;
    void outdate() override {}

private:
    void take(Moved moved);
    void measureDensities();
    void measureBounds();
    void measureFolds();

    const project::Document& document_;
    SourceStage& source_;
    Moved moved_;
    std::vector<motion::Density> densities_;
    std::optional<motion::LoopBounds> loopBounds_;
    std::optional<motion::Folds> folds_;
    LatestJob playJob_;
    LatestJob densitiesJob_;
    LatestJob boundsJob_;
    LatestJob foldsJob_;
};

} // namespace ripple::app
