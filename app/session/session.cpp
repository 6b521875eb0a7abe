#include "app/session/session.h"

#include "app/session/document_edit.h"
#include "app/session/words.h"
#include "bake/room.h"
#include "base/files.h"

#include <QFileInfo>

namespace ripple::app {

namespace {

/// Sources whose frames take more memory than this are baked only when asked.
constexpr std::size_t kAutoBakeBytes = std::size_t{1} << 30;

/// What a bake of a source came to; no state if it was held for its size.
struct BakeOutcome {
    std::shared_ptr<const BakeState> state;
    bake::SamplePlan plan;
    std::size_t bytes = 0;
};

std::size_t frameBytes(const source::FrameSource& source, const bake::SamplePlan& plan) {
    std::size_t poses = plan.frameCount();
    for (const bake::ClipPlan& clip : plan.clips) {
        poses += clip.probes.size();
    }
    return source.mesh().vertexCount() * poses * 2 * sizeof(glm::vec3);
}

/// The seam as the clip is played: of a thinned one from poses at all its frames.
bake::Seam seamOf(const source::FrameSource& source, const bake::ClipPlan& plan, const bake::Frames& frames,
                  const bake::BakedClip& clip) {
    if (plan.times.empty()) {
        return bake::measureSeam(frames, clip.firstFrame, clip.frames, clip.fps);
    }
    bake::SamplePlan whole;
    whole.clips.push_back(plan);
    bake::ClipPlan& all = whole.clips.front();
    const double start = plan.seconds.front();
    all.seconds.clear();
    all.times.clear();
    for (std::size_t f = 0; f < plan.length; ++f) {
        all.seconds.push_back(start + static_cast<double>(f) / plan.fps);
    }
    return bake::measureSeam(bake::sampleFrames(source, whole), 0, plan.length, plan.fps);
}

/// Poses that an earlier bake sampled and this one can use again.
struct HeldPoses {
    bake::SamplePlan plan;
    std::shared_ptr<const bake::Frames> frames;
    std::shared_ptr<const bake::Frames> probes;
    std::vector<bake::Motion> motion;
    std::vector<bake::Seam> seams;
    std::shared_ptr<const BakeState> bake; ///< which this one may take from what it stores alike
};

/// What an earlier report says that needs no measuring again: textures that hold vertices decode to the same
/// whenever they are stored in the same way.
bake::EarlierError earlierError(const BakeState* earlier, const bake::TextureSet& now) {
    if (!earlier || earlier->baked.textures.kind != bake::Kind::vertices ||
        now.kind != bake::Kind::vertices) {
        return {};
    }
    const bake::TextureSet& then = earlier->baked.textures;
    const bool positions = std::string(then.positionStore.name) == now.positionStore.name &&
                           then.content == now.content && then.ranges == now.ranges;
    const bool normals = std::string(then.normalStore.name) == now.normalStore.name;
    return {positions ? &earlier->error : nullptr, normals ? &earlier->error : nullptr};
}

using Encoded = std::function<void(std::shared_ptr<const bake::Baked>)>;

std::shared_ptr<const BakeState> makeBake(const std::shared_ptr<const source::FrameSource>& source,
                                          const bake::Recipe& recipe, const bake::SamplePlan& plan,
                                          HeldPoses held, base::Progress& progress, const Encoded& encoded) {
    auto state = std::make_shared<BakeState>();
    state->plan = plan;
    progress.stage(0.0, 0.5);
    if (!held.frames) {
        bake::requireFitting(recipe);
        bake::requireRoom(*source, state->plan, recipe);
        held.frames = std::make_shared<bake::Frames>(bake::sampleFrames(*source, state->plan, progress));
        held.probes = std::make_shared<bake::Frames>(bake::sampleProbes(*source, state->plan));
    }
    state->frames = held.frames;
    state->probes = held.probes;
    const bake::Frames& frames = *held.frames;
    progress.stage(0.5, 0.7);
    state->baked = bake::encodeFrames(*source, state->plan, frames, recipe, progress,
                                      held.bake ? &held.bake->baked : nullptr);
    encoded({state, &state->baked}); // nothing below changes it
    progress.stage(0.7, 1.0);
    const bake::TextureReader reader = state->reader(source->mesh());
    const auto& clips = state->baked.textures.clips;
    state->error =
        bake::measureError(*source, state->plan, {&frames, held.probes.get()}, reader, clips, progress,
                           bake::Detail::all, earlierError(held.bake.get(), state->baked.textures));
    state->motion = std::move(held.motion);
    state->seams = std::move(held.seams);
    for (std::size_t c = state->seams.size(); c < clips.size(); ++c) {
        state->motion.push_back(bake::measureMotion(frames, clips[c].firstFrame, clips[c].frames));
        state->seams.push_back(seamOf(*source, state->plan.clips[c], frames, clips[c]));
    }
    return state;
}

std::shared_ptr<const bake::Baked> encodedOf(const std::shared_ptr<const BakeState>& state) {
    return state ? std::shared_ptr<const bake::Baked>(state, &state->baked) : nullptr;
}

/// Empty if the file can't be read.
std::string stampOf(const QString& file) {
    try {
        return base::sha256OfFile(pathBytes(file));
    } catch (const base::Failure&) {
        return {};
    }
}

unsigned differences(const project::Document& a, const project::Document& b) {
    return (a.source == b.source ? 0u : kSourceChange) | (a.recipe == b.recipe ? 0u : kRecipeChange) |
           (a.ship == b.ship ? 0u : kShipChange) | (a.view == b.view ? 0u : kViewChange) |
           (a.tolerance == b.tolerance ? 0u : kToleranceChange) |
           (a.score == b.score && a.scoreOnTop == b.scoreOnTop ? 0u : kScoreChange);
}

} // namespace

Session::Session(QObject* parent) : QObject(parent) {
    constexpr int kRest = 200; // a voice that is dragged is not baked at each step
    setRest(kRest);
    sizeSoon_.setSingleShot(true);
    connect(&sizeSoon_, &QTimer::timeout, this, [this] {
        if (sampledRecipe_) { // else what moves is another by now, and its bake comes first
            sizeShip();
        }
    });
    connect(&bakeJob_, &LatestJob::runningChanged, &ladderJob_, &LatestJob::hold);
    connect(&bakeJob_, &LatestJob::cancelled, this, [this] {
        encoded_ = encodedOf(bake_); // numbers and picture go together again
        Q_EMIT bakeEncoded();
        sizeSoon_.start();
    });
    scoreSoon_.setSingleShot(true);
    connect(&scoreSoon_, &QTimer::timeout, this, [this] {
        measureDensities();
        refreshObservations();
        Q_EMIT densitiesMeasured();
        startBounds();
        startFolds();
        startSurvey();
        bakeIfSmall();
    });
}

Session::~Session() = default;

void Session::edit(const QString& text, const std::function<void(project::Document&)>& change, int gesture) {
    project::Document next = document_;
    change(next);
    if (next == document_) {
        return;
    }
    undo_.push(new DocumentEdit(*this, text, std::move(next), gesture));
}

void Session::look(const std::function<void(project::View&)>& change) {
    project::Document next = document_;
    change(next.view);
    apply(next);
}

void Session::apply(const project::Document& document) {
    const unsigned changes = differences(document_, document);
    if (!changes) {
        return;
    }
    document_ = document;
    if (changes & (kSourceChange | kRecipeChange | kShipChange | kScoreChange)) {
        // What was written and checked is no longer what the document says.
        changedSinceWritten_ = changedSinceWritten_ || check_;
        check_.reset();
        shipProblem_.reset();
    }
    if (changes & kRecipeChange) {
        refreshObservations(); // those who show the change ask for them
    }
    const bool rebakes = (changes & (kSourceChange | kScoreChange | kRecipeChange)) == kRecipeChange;
    if (rebakes) {
        bakeIfSmall(); // it works while the window shows the change
    }
    Q_EMIT documentChanged(changes);
    if (changes & kSourceChange) {
        loadSource();
    } else if (changes & kScoreChange) {
        takeScore();
    } else if (rebakes) {
        if (source_ && document_.recipe.fps != surveyedRate_) {
            startSurvey(); // clips are sampled at another rate: other frames
        }
    } else if (changes & kShipChange) {
        sizeShip();
    }
}

void Session::resetComputed() {
    source_.reset();
    opened_.reset();
    size_ = 0.0;
    performance_.reset();
    scoreProblem_.reset();
    scoreSoon_.stop();
    boundsJob_.cancel();
    loopBounds_.reset();
    foldsJob_.cancel();
    folds_.reset();
    bake_.reset();
    encoded_.reset();
    ladderJob_.cancel();
    ladder_.reset();
    ladderRecipe_.reset();
    sizeSoon_.stop();
    sizeJob_.cancel();
    ship_.reset();
    check_.reset();
    changedSinceWritten_ = false;
    survey_.reset();
    observations_.clear();
    meshFacts_ = {};
    plan_.reset();
    marks_.clear();
    compared_.reset();
    shownJoint_ = -1;
    bakeHeld_ = false;
    sourceProblem_.reset();
    bakeProblem_.reset();
    shipProblem_.reset();
    picked_ = -1;
}

void Session::newProject() {
    sourceJob_.cancel();
    surveyJob_.cancel();
    bakeJob_.cancel();
    writeJob_.cancel();
    undo_.clear();
    file_.clear();
    document_ = {};
    resetComputed();
    playhead_.setClips({});
    Q_EMIT documentChanged(kSourceChange | kRecipeChange | kShipChange | kViewChange | kScoreChange);
    Q_EMIT projectFileChanged();
    Q_EMIT sourceLoaded();
    Q_EMIT bakeFinished();
}

void Session::open(const QString& path) {
    project::Document next;
    const std::filesystem::path file = pathBytes(path);
    const bool isProject = base::extensionOf(file) == ".curly";
    if (isProject) {
        next = project::loadDocument(file);
    } else {
        next.source.path = std::filesystem::absolute(file).lexically_normal().string();
    }
    newProject();
    file_ = isProject ? QFileInfo(path).absoluteFilePath() : QString();
    stamp_ = isProject ? stampOf(file_) : std::string();
    document_ = next;
    Q_EMIT projectFileChanged();
    Q_EMIT documentChanged(kSourceChange | kRecipeChange | kShipChange | kViewChange | kScoreChange);
    loadSource();
}

void Session::openCopy(const QString& projectFile) {
    open(projectFile);
    file_.clear();
    stamp_.clear();
    Q_EMIT projectFileChanged();
}

bool Session::changedOnDisk() const {
    return !file_.isEmpty() && !stamp_.empty() && stampOf(file_) != stamp_;
}

void Session::restore(const QString& copy, const QString& projectFile) {
    const project::Document left = project::loadDocument(pathBytes(copy));
    if (projectFile.isEmpty()) {
        newProject();
    } else {
        open(projectFile);
    }
    edit(tr("Restore what was not saved"), [&](project::Document& d) { d = left; });
}

void Session::save() {
    project::saveDocument(document_, pathBytes(file_));
    stamp_ = stampOf(file_);
    undo_.setClean();
    Q_EMIT projectFileChanged();
}

void Session::saveAs(const QString& file) {
    project::saveDocument(document_, pathBytes(file));
    file_ = QFileInfo(file).absoluteFilePath();
    stamp_ = stampOf(file_);
    undo_.setClean();
    Q_EMIT projectFileChanged();
}

QString Session::title() const {
    const QString name =
        file_.isEmpty() ? QString::fromStdString(document_.assetName()) : QFileInfo(file_).completeBaseName();
    return name + (undo_.isClean() ? "" : " •");
}

void Session::rebake() {
    startBake(true);
}

void Session::bakeIfSmall() {
    startBake(false);
}

void Session::startBake(bool asked) {
    if (!source_) {
        return;
    }
    const bake::Recipe recipe = fittingRecipe();
    HeldPoses held;
    if (bake_ && sampledRecipe_ && samplesAlike(*sampledRecipe_, recipe)) {
        // Only the encoding changed.
        held = {bake_->plan, bake_->frames, bake_->probes, bake_->motion, bake_->seams, bake_};
    }
    // Then its picture need not wait for its error.
    const Encoded show = [this, source = source_, recipe](std::shared_ptr<const bake::Baked> baked) {
        QMetaObject::invokeMethod(
            this,
            [this, source, recipe, baked = std::move(baked)] {
                if (source_ == source && bakeJob_.running() && recipe == fittingRecipe()) {
                    encoded_ = baked;
                    Q_EMIT bakeEncoded();
                }
            },
            Qt::QueuedConnection);
    };
    sizeSoon_.stop();
    sizeJob_.cancel(); // of the bake before
    bakeJob_.start<BakeOutcome>(
        [source = source_, recipe, held, asked, show](base::Progress& progress) {
            BakeOutcome outcome;
            outcome.plan = held.frames ? held.plan : bake::planSampling(*source, recipe, progress);
            outcome.bytes = frameBytes(*source, outcome.plan);
            if (asked || outcome.bytes <= kAutoBakeBytes) {
                outcome.state = makeBake(source, recipe, outcome.plan, held, progress,
                                         held.frames ? show : Encoded([](const auto&) {}));
            }
            return outcome;
        },
        [this, recipe](BakeOutcome outcome) {
            bake_ = std::move(outcome.state);
            encoded_ = encodedOf(bake_);
            bakeHeld_ = bake_ == nullptr;
            bakeBytes_ = outcome.bytes;
            sampledRecipe_ = recipe;
            bakeProblem_.reset();
            plan_ = std::move(outcome.plan);
            playhead_.setClips(bake::clipsOf(*plan_));
            Q_EMIT bakeFinished();
            if (bake_) {
                startLadder();
                sizeSoon_.start(); // the picture of this bake comes first
            } else {
                ship_.reset();
                Q_EMIT shipSized();
            }
        },
        [this](base::Problem problem) {
            bake_.reset();
            encoded_.reset();
            ship_.reset();
            bakeHeld_ = false;
            bakeProblem_ = std::move(problem);
            Q_EMIT bakeFinished();
            Q_EMIT shipSized();
        });
}

} // namespace ripple::app
