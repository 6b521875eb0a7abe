#include "app/session/performance_stage.h"

namespace ripple::app {

namespace {

/// Vertices of a mesh that a score is played on at once: it takes a few milliseconds.
constexpr std::size_t kPlayedAtOnce = 20000;

} // namespace

PerformanceStage::PerformanceStage(const project::Document& document, SourceStage& source)
    : Computed(&source),
      document_(document),
      source_(source) {}

void PerformanceStage::clear() {
    moved_ = {};
    densities_.clear();
    loopBounds_.reset();
    folds_.reset();
}

bake::Recipe PerformanceStage::recipe() const {
    const bool own = source_.result() && moved_.source == source_.result()->source;
    return own ? document_.recipe : fittingRecipe(document_.recipe, moved_.source.get());
}

bool PerformanceStage::takeOpened() {
    moved_ = source_.result()->moved;
    return moved_.score == document_.score && moved_.scoreOnTop == document_.scoreOnTop;
}

void PerformanceStage::play() {
    if (!source_.result()) {
        Q_EMIT played();
        return;
    }
    const auto opened = source_.result()->source;
    const auto work = [opened, document = document_, before = moved_] {
        return playDocument(opened, document, before);
    };
    if (opened->mesh().vertexCount() <= kPlayedAtOnce && document_.recipe.thin == 0.0) {
        playJob_.cancel();
        take(work());
        return;
    }
    playJob_.start<Moved>([work](base::Progress&) { return work(); },
                          [this](Moved moved) { take(std::move(moved)); },
                          [this](base::Problem problem) {
                              Moved moved = moved_;
                              moved.performance.reset();
                              moved.problem = std::move(problem);
                              take(std::move(moved));
                          });
}

void PerformanceStage::take(Moved moved) {
    moved_ = std::move(moved);
    densities_.clear();
    outdateBelow();
    Q_EMIT played();
}

void PerformanceStage::measure() {
    measureDensities();
    measureBounds();
    measureFolds();
}

void PerformanceStage::measureDensities() {
    densitiesJob_.start<std::vector<motion::Density>>(
        [performance = moved_.performance, opened = source_.result() ? source_.result()->source : nullptr,
         voices = document_.score.voices](base::Progress& progress) {
            std::vector<motion::Density> densities;
            for (std::size_t i = 0; performance && i < voices.size(); ++i) {
                progress.checkpoint();
                densities.push_back(motion::measureDensity(*performance, opened->mesh(), voices[i], i));
            }
            return densities;
        },
        [this](std::vector<motion::Density> densities) {
            densities_ = std::move(densities);
            Q_EMIT densitiesMeasured();
        },
        [](const base::Problem&) {}); // of a score that goes nowhere finite; posing says so
}

void PerformanceStage::measureFolds() {
    if (!moved_.performance) {
        foldsJob_.cancel();
        folds_.reset();
        Q_EMIT foldsMeasured();
        return;
    }
    foldsJob_.start<motion::Folds>(
        [performance = moved_.performance, opened = source_.result()->source](base::Progress& progress) {
            constexpr int kInstants = 24;
            return motion::measureFolds(*performance, opened->mesh(), kInstants, progress);
        },
        [this](const motion::Folds& folds) {
            folds_ = folds;
            Q_EMIT foldsMeasured();
        },
        [this](const base::Problem&) { // of a score that goes nowhere finite; posing says so
            folds_.reset();
            Q_EMIT foldsMeasured();
        });
}

void PerformanceStage::measureBounds() {
    if (!moved_.performance || document_.scoreOnTop) { // on top of clips it is the bake that knows
        boundsJob_.cancel();
        loopBounds_.reset();
        Q_EMIT loopBounded();
        return;
    }
    boundsJob_.start<motion::LoopBounds>(
        [performance = moved_.performance](base::Progress& progress) {
            return motion::boundsOfLoop(*performance, motion::kUsualCopySizes, progress);
        },
        [this](const motion::LoopBounds& bounds) {
            loopBounds_ = bounds;
            Q_EMIT loopBounded();
        },
        [this](const base::Problem&) { // of a score that goes nowhere finite; posing says so
            loopBounds_.reset();
            Q_EMIT loopBounded();
        });
}

} // namespace ripple::app
