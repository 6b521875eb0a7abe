#include "app/session/source_stage.h"

#include "bake/tolerance.h"
#include "motion/score_source.h"
#include "project/fixes.h"
#include "source/shape_source.h"

#include <algorithm>

namespace ripple::app {

namespace {

std::shared_ptr<const source::FrameSource> openChoice(const project::SourceChoice& choice,
                                                      const source::Trust& trust, base::Progress& progress) {
    return choice.shape ? source::openTestShape(*choice.shape, choice.reading)
                        : source::open(choice.path, choice.reading, progress, source::kFrameCacheBytes,
                                       {trust.followOutside || choice.followOutside, trust.import});
}

OpenedSource openSource(const project::Document& document, const source::Trust& trust, bool again,
                        base::Progress& progress) {
    OpenedSource opened;
    project::SourceChoice choice = document.source;
    try {
        opened.source = openChoice(choice, trust, progress);
    } catch (const base::Failure& failure) {
        // After a change on disk a range or a mesh may be gone; the rest is kept.
        source::Reading& reading = choice.reading;
        if (!again || (!reading.time.range && reading.meshes.empty())) {
            throw;
        }
        reading.time.range.reset();
        reading.meshes.clear();
        opened.source = openChoice(choice, trust, progress);
        opened.changes.push_back(failure.problem().what + "; all is taken");
    }
    opened.reading = choice.reading;
    opened.facts = inspect::meshFacts(opened.source->mesh());
    opened.size = bake::assetSize(opened.source->mesh());
    opened.moved = playDocument(opened.source, document, {});
    return opened;
}

std::optional<bake::SamplePlan> planOf(const source::FrameSource& source, const bake::Recipe& recipe) {
    try {
        return bake::planSampling(source, recipe);
    } catch (const base::Failure&) {
        return std::nullopt; // the bake will say what does not fit
    }
}

} // namespace

bake::Recipe fittingRecipe(const bake::Recipe& recipe, const source::FrameSource* source) {
    bake::Recipe fitting = recipe;
    const auto clips = source ? source->clips() : std::span<const source::Clip>();
    std::erase_if(fitting.clips, [&](const bake::ClipChoice& choice) {
        return std::none_of(clips.begin(), clips.end(),
                            [&](const source::Clip& clip) { return clip.name == choice.name; });
    });
    return fitting;
}

Moved playDocument(const std::shared_ptr<const source::FrameSource>& opened,
                   const project::Document& document, const Moved& before) {
    Moved moved;
    moved.score = document.score;
    moved.scoreOnTop = document.scoreOnTop;
    moved.source = opened;
    if (!document.score.voices.empty()) {
        try {
            moved.performance = std::make_shared<const motion::Performance>(document.score, opened->mesh(),
                                                                            before.performance.get());
            moved.source = motion::playScore(opened, document.score, moved.performance,
                                             document.scoreOnTop ? motion::Play::onTop : motion::Play::alone);
        } catch (const base::Failure& failure) {
            moved.performance.reset();
            moved.problem = failure.problem();
        }
    }
    // A score alone closes whatever it is: with the same clip its frames are the same.
    const bool alone = moved.performance && before.performance && !moved.scoreOnTop && !before.scoreOnTop;
    if (alone && before.plan && std::ranges::equal(before.source->clips(), moved.source->clips())) {
        moved.plan = before.plan;
        return moved;
    }
    const bool own = moved.source == opened;
    moved.plan =
        planOf(*moved.source, own ? document.recipe : fittingRecipe(document.recipe, moved.source.get()));
    return moved;
}

void SourceStage::clear() {
    result_.reset();
    problem_.reset();
}

void SourceStage::load(Load load) {
    if (!document_.source.chosen()) {
        drop();
        Q_EMIT failed(); // without a problem: there is nothing to open
        return;
    }
    const bool again = load == Load::again;
    job_.start<OpenedSource>(
        [document = document_, trust = trust_, again](base::Progress& progress) {
            return openSource(document, trust, again, progress);
        },
        [this, load](OpenedSource opened) { take(std::move(opened), load); },
        [this, again](base::Problem problem) {
            if (again && result_) {
                Q_EMIT reloadFailed(QString::fromStdString(problem.line()));
                return; // what was there is shown on
            }
            drop();
            problem_ = std::move(problem);
            Q_EMIT failed();
        });
}

void SourceStage::take(OpenedSource opened, Load load) {
    std::vector<std::string> changes = opened.changes;
    const auto before = result_;
    if (load == Load::again && before) {
        const auto more = project::describeChange(*before->source, *opened.source);
        changes.insert(changes.begin(), more.begin(), more.end());
    }
    drop();
    result_ = std::make_shared<const OpenedSource>(std::move(opened));
    QStringList words;
    for (const std::string& line : changes) {
        words << QString::fromStdString(line);
    }
    Q_EMIT this->opened(load == Load::again, words);
}

} // namespace ripple::app
