#include "app/session/survey_stage.h"

#include <filesystem>

namespace ripple::app {

SurveyStage::SurveyStage(const project::Document& document, SourceStage& source,
                         PerformanceStage& performance)
    : Computed(&performance),
      document_(document),
      source_(source),
      performance_(performance) {}

void SurveyStage::clear() {
    result_.reset();
    observations_.clear();
}

void SurveyStage::startIfRateChanged() {
    if (performance_.source() && document_.recipe.fps != rate_) {
        start();
    }
}

void SurveyStage::start() {
    result_.reset();
    rate_ = document_.recipe.fps;
    using Result = std::shared_ptr<const inspect::Survey>;
    const auto source = performance_.source();
    job_.startTelling<Result>(
        [this, source, recipe = performance_.recipe()](base::Progress& progress,
                                                       const LatestJob::Tell& tell) -> Result {
            return inspect::survey(*source, recipe, progress, [&](Result part) {
                tell([this, part] { // done only while this is there and at it
                    result_ = part;
                    observe();
                    Q_EMIT changed();
                });
            });
        },
        [this](Result whole) {
            result_ = std::move(whole);
            observe();
            Q_EMIT changed();
        },
        [this](const base::Problem& problem) { Q_EMIT failed(QString::fromStdString(problem.line())); });
}

void SurveyStage::observe() {
    observations_.clear();
    if (!source_.result() || !performance_.source()) {
        return;
    }
    const std::string name = document_.source.shape
                                 ? document_.source.shape->kind
                                 : std::filesystem::path(document_.source.path).filename().string();
    observations_ = inspect::inspect(
        {*performance_.source(), document_.source.reading, document_.recipe, result_.get(), name},
        source_.result()->facts);
}

} // namespace ripple::app
