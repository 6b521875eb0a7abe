// The source of a session: opening it, reading it again, what is found in it, what is marked on it.

#include "app/session/session.h"

#include "motion/score_source.h"
#include "project/fixes.h"
#include "source/open.h"
#include "source/shape_source.h"

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

std::shared_ptr<const source::FrameSource> openChoice(const project::SourceChoice& choice,
                                                      const source::Trust& trust, base::Progress& progress) {
    return choice.shape ? source::openTestShape(*choice.shape, choice.reading)
                        : source::open(choice.path, choice.reading, progress, source::kFrameCacheBytes,
                                       {trust.followOutside || choice.followOutside, trust.import});
}

std::optional<bake::SamplePlan> planOf(const source::FrameSource& source, const bake::Recipe& recipe) {
    try {
        return bake::planSampling(source, recipe);
    } catch (const base::Failure&) {
        return std::nullopt; // the bake will say what does not fit
    }
}

OpenedSource openSource(project::SourceChoice choice, const source::Trust& trust, const bake::Recipe& recipe,
                        bool again, base::Progress& progress) {
    OpenedSource opened;
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
    opened.plan = planOf(*opened.source, recipe);
    return opened;
}

} // namespace

void Session::loadSource(Load load) {
    surveyJob_.cancel();
    if (!document_.source.chosen()) {
        sourceJob_.cancel();
        resetComputed();
        playhead_.setClips({});
        Q_EMIT sourceLoaded();
        Q_EMIT bakeFinished();
        return;
    }
    const bool again = load == Load::again;
    sourceJob_.start<OpenedSource>(
        [choice = document_.source, trust = trust_, recipe = document_.recipe,
         again](base::Progress& progress) { return openSource(choice, trust, recipe, again, progress); },
        [this, load](OpenedSource opened) { takeSource(std::move(opened), load); },
        [this, again](base::Problem problem) {
            if (again && source_) {
                Q_EMIT reloadFailed(QString::fromStdString(problem.line()));
                return; // what was there is shown on
            }
            resetComputed();
            sourceProblem_ = std::move(problem);
            playhead_.setClips({});
            Q_EMIT sourceLoaded();
            Q_EMIT bakeFinished();
        });
}

void Session::takeSource(OpenedSource opened, Load load) {
    std::vector<std::string> changes = opened.changes;
    const auto before = opened_;
    if (load == Load::again && before) {
        const auto more = project::describeChange(*before, *opened.source);
        changes.insert(changes.begin(), more.begin(), more.end());
    }
    resetComputed();
    bakeJob_.cancel();
    opened_ = std::move(opened.source);
    size_ = bake::assetSize(opened_->mesh());
    playScore();
    measureDensities();
    meshFacts_ = std::move(opened.facts);
    plan_ = source_ == opened_ ? std::move(opened.plan) : planOf(*source_, fittingRecipe());
    playhead_.setClips(plan_ ? bake::clipsOf(*plan_) : std::vector<bake::BakedClip>());
    refreshObservations();
    Q_EMIT sourceLoaded();
    if (load == Load::again) {
        project::Document next = document_;
        next.source.reading = opened.reading;
        for (const std::string& line : project::dropStaleChoices(next, *source_)) {
            changes.push_back(line);
        }
        QStringList words;
        for (const std::string& line : changes) {
            words << QString::fromStdString(line);
        }
        const bool readOtherwise = !(next.source == document_.source);
        edit(tr("The source changed"), [&](project::Document& d) { d = next; });
        Q_EMIT sourceReloaded(words);
        if (readOtherwise) {
            return; // that edit opens it once more, with what still applies
        }
    }
    startSurvey();
    bakeIfSmall();
    startBounds();
    startFolds();
}

bake::Recipe Session::fittingRecipe() const {
    bake::Recipe recipe = document_.recipe;
    std::erase_if(recipe.clips, [this](const bake::ClipChoice& choice) {
        const auto clips = source_ ? source_->clips() : std::span<const source::Clip>();
        return std::none_of(clips.begin(), clips.end(),
                            [&](const source::Clip& clip) { return clip.name == choice.name; });
    });
    return source_ == opened_ ? document_.recipe : recipe;
}

void Session::playScore() {
    const auto before = std::exchange(performance_, nullptr);
    densities_.clear();
    scoreProblem_.reset();
    source_ = opened_;
    if (!opened_ || document_.score.voices.empty()) {
        return;
    }
    try {
        performance_ =
            std::make_shared<const motion::Performance>(document_.score, opened_->mesh(), before.get());
        source_ = motion::playScore(opened_, document_.score, performance_,
                                    document_.scoreOnTop ? motion::Play::onTop : motion::Play::alone);
    } catch (const base::Failure& failure) {
        performance_.reset();
        scoreProblem_ = failure.problem();
    }
}

void Session::measureDensities() {
    densities_.clear();
    for (std::size_t i = 0; performance_ && i < document_.score.voices.size(); ++i) {
        densities_.push_back(
            motion::measureDensity(*performance_, opened_->mesh(), document_.score.voices[i], i));
    }
}

void Session::startFolds() {
    if (!performance_) {
        foldsJob_.cancel();
        folds_.reset();
        Q_EMIT foldsMeasured();
        return;
    }
    foldsJob_.start<motion::Folds>(
        [performance = performance_, opened = opened_](base::Progress& progress) {
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

void Session::startBounds() {
    if (!performance_ || document_.scoreOnTop) { // on top of clips it is the bake that knows
        boundsJob_.cancel();
        loopBounds_.reset();
        Q_EMIT loopBounded();
        return;
    }
    boundsJob_.start<mesh::Bounds>(
        [performance = performance_](base::Progress& progress) {
            return motion::boundsOfLoop(*performance, progress);
        },
        [this](const mesh::Bounds& bounds) {
            loopBounds_ = bounds;
            Q_EMIT loopBounded();
        },
        [this](const base::Problem&) { // of a score that goes nowhere finite; posing says so
            loopBounds_.reset();
            Q_EMIT loopBounded();
        });
}

void Session::takeScore() {
    surveyJob_.cancel();
    bakeJob_.cancel();
    ladderJob_.cancel();
    const auto before = source_;
    playScore();
    // Poses of before are no use any more. A bake of as many clips is shown until there is a newer one; what
    // was read of each frame is of other frames.
    survey_.reset();
    if (bake_ && source_ && bake_->baked.textures.clips.size() != source_->clips().size()) {
        bake_.reset();
        encoded_.reset();
    }
    sampledRecipe_.reset();
    ladderRecipe_.reset();
    ladder_.reset();
    if (opened_) {
        // A score alone closes whatever it is: with the same clip its frames are the same.
        const bool same = plan_ && before && performance_ && !document_.scoreOnTop &&
                          std::ranges::equal(before->clips(), source_->clips());
        if (!same) {
            plan_ = planOf(*source_, fittingRecipe());
            playhead_.setClips(plan_ ? bake::clipsOf(*plan_) : std::vector<bake::BakedClip>());
        }
        scoreSoon_.start();
    }
    Q_EMIT scoreChanged();
}

void Session::reloadSource() {
    if (document_.source.chosen() && !document_.source.shape) {
        loadSource(Load::again);
    }
}

void Session::startSurvey() {
    survey_.reset();
    surveyedRate_ = document_.recipe.fps;
    using Result = std::shared_ptr<const inspect::Survey>;
    const auto source = source_;
    surveyJob_.start<Result>(
        [this, source, recipe = fittingRecipe()](base::Progress& progress) -> Result {
            return inspect::survey(*source, recipe, progress, [&](Result part) {
                QMetaObject::invokeMethod(
                    this,
                    [this, source, part] {
                        if (source_ == source && surveyJob_.running()) {
                            survey_ = part;
                            refreshObservations();
                            Q_EMIT surveyed();
                        }
                    },
                    Qt::QueuedConnection);
            });
        },
        [this](Result whole) {
            survey_ = std::move(whole);
            refreshObservations();
            Q_EMIT surveyed();
        },
        [this](const base::Problem& problem) {
            Q_EMIT reloadFailed(QString::fromStdString(problem.line()));
        });
}

void Session::refreshObservations() {
    observations_.clear();
    if (!source_) {
        return;
    }
    const std::string name = document_.source.shape
                                 ? document_.source.shape->kind
                                 : std::filesystem::path(document_.source.path).filename().string();
    observations_ = inspect::inspect(
        {*source_, document_.source.reading, document_.recipe, survey_.get(), name}, meshFacts_);
}

void Session::applyFix(const inspect::Fix& fix) {
    edit(QString::fromStdString(fix.label), [&](project::Document& d) { project::applyFix(d, fix); });
}

void Session::showObservation(const inspect::Observation& observation) {
    if (observation.place) {
        playhead_.setPlaying(false);
        goToClipFrame(observation.place->clip, static_cast<double>(observation.place->frame));
    }
    mark(observation.vertices);
    if (!observation.vertices.empty() && observation.vertices.size() < 200) {
        showVertex(static_cast<int>(observation.vertices.front()));
    }
}

double Session::clipFrame() const {
    const auto index = static_cast<std::size_t>(playhead_.clipIndex());
    if (!plan_ || index >= plan_->clips.size()) {
        return 0.0;
    }
    return plan_->clips[index].firstFrame + playhead_.frame() * plan_->clips[index].frameStep;
}

void Session::goToClipFrame(std::size_t clip, double frame) {
    for (std::size_t c = 0; plan_ && c < plan_->clips.size(); ++c) {
        const bake::ClipPlan& plan = plan_->clips[c];
        if (plan.clip == clip) {
            playhead_.setClipIndex(static_cast<int>(c));
            playhead_.setFrame(std::clamp((frame - plan.firstFrame) / plan.frameStep, 0.0,
                                          static_cast<double>(plan.length - 1)));
        }
    }
}

std::optional<Session::KeptWindow> Session::keptWindow() const {
    const auto index = static_cast<std::size_t>(playhead_.clipIndex());
    if (!source_ || !plan_ || index >= plan_->clips.size()) {
        return std::nullopt;
    }
    const bake::ClipPlan& shown = plan_->clips[index];
    KeptWindow kept;
    kept.clip = shown.clip;
    kept.frames = framesOf(shown.clip);
    kept.window.last = kept.frames - 1;
    for (const bake::ClipChoice& choice : document().recipe.clips) {
        if (choice.name == shown.name && choice.window) {
            kept.window = {choice.window->first, std::min(choice.window->last, kept.frames - 1)};
        }
    }
    return kept;
}

std::size_t Session::framesOf(std::size_t clip) const {
    // Whether a clip closes is seen in its poses, which take time; the same few questions come at every
    // change.
    const bake::Recipe& recipe = document().recipe;
    const auto closing = bake::closingOf(recipe, source_->clips()[clip].name);
    for (const KnownFrames& known : knownFrames_) {
        if (known.source.lock() == source_ && known.clip == clip && known.fps == recipe.fps &&
            known.closing == closing) {
            return known.frames;
        }
    }
    constexpr std::size_t kKept = 16;
    if (knownFrames_.size() == kKept) {
        knownFrames_.erase(knownFrames_.begin());
    }
    const std::size_t frames = bake::measureClip(*source_, clip, recipe).frames;
    knownFrames_.push_back({source_, clip, recipe.fps, closing, frames});
    return frames;
}

void Session::keepWindow(const bake::FrameWindow& window, bool continuing) {
    const auto kept = keptWindow();
    if (!kept) {
        return;
    }
    edit(
        tr("Frame range"),
        [&](project::Document& d) {
            d.recipe.clips = bake::withWindow(*source_, d.recipe, kept->clip, window);
        },
        gesture(continuing));
}

void Session::pickVertex(int vertex) {
    const int count = source_ ? static_cast<int>(source_->mesh().vertexCount()) : 0;
    const int inside = vertex >= 0 && vertex < count ? vertex : -1;
    if (inside != picked_) {
        picked_ = inside;
        Q_EMIT picked(picked_);
    }
}

void Session::mark(std::vector<std::uint32_t> vertices) {
    if (vertices != marks_) {
        marks_ = std::move(vertices);
        Q_EMIT marksChanged();
    }
}

void Session::compareWith(std::optional<double> frame) {
    if (frame != compared_) {
        compared_ = frame;
        Q_EMIT comparedChanged();
    }
}

void Session::showJoint(int joint) {
    if (joint != shownJoint_) {
        shownJoint_ = joint;
        Q_EMIT shownJointChanged();
    }
}

} // namespace ripple::app
