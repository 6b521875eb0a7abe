#pragma once

#include "app/session/performance_stage.h"
#include "inspect/survey.h"

namespace ripple::app {

/// What reading all frames shows, and what is found in the source.
class SurveyStage : public Computed {
    Q_OBJECT
public:
    /// All must outlive this.
    SurveyStage(const project::Document& document, SourceStage& source, PerformanceStage& performance);

    /// Null before the first part.
    std::shared_ptr<const inspect::Survey> result() const { return result_; }
    /// Worst first.
    const std::vector<inspect::Observation>& observations() const { return observations_; }
    LatestJob& job() { return job_; }
    std::vector<LatestJob*> jobs() override { return {&job_}; }

    void start();
    /// Starts anew if clips are sampled at another rate by now: those are other frames.
    void startIfRateChanged();
    /// Finds anew in what was read so far.
    void observe();

Q_SIGNALS:
    void changed();
    void failed(const QString& words);

protected:
    void clear() override;
    void outdate() override { result_.reset(); }

private:
    const project::Document& document_;
    SourceStage& source_;
    PerformanceStage& performance_;
    std::shared_ptr<const inspect::Survey> result_;
    std::vector<inspect::Observation> observations_;
    double rate_ = 0.0; ///< the recipe's, that the result was made with
    LatestJob job_;
};

} // namespace ripple::app
