#include "app/session/session.h"

#include "app/session/document_edit.h"
#include "app/session/words.h"
#include "base/files.h"
#include "motion/parameter.h"

#include <QFileInfo>

namespace ripple::app {

namespace {

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
           (a.scatter == b.scatter ? 0u : kScatterChange) |
           (a.score == b.score && a.scoreOnTop == b.scoreOnTop ? 0u : kScoreChange);
}

} // namespace

Session::Session(QObject* parent) : QObject(parent) {
    constexpr int kRest = 200; // a voice that is dragged is not baked at each step
    setRest(kRest);
    scoreSoon_.setSingleShot(true);
    connectStages();
}

void Session::connectStages() {
    connect(&source_, &SourceStage::opened, this, &Session::takeSource);
    connect(&source_, &SourceStage::failed, this, [this] {
        forgetLooks();
        Q_EMIT sourceLoaded();
        Q_EMIT bakeFinished();
    });
    connect(&source_, &SourceStage::reloadFailed, this, &Session::reloadFailed);
    connect(&performance_, &PerformanceStage::played, this, [this] {
        takePlan();
        if (openedSource() && follows_) {
            scoreSoon_.start();
        }
        Q_EMIT scoreChanged();
    });
    connect(&performance_, &PerformanceStage::densitiesMeasured, this, &Session::densitiesMeasured);
    connect(&performance_, &PerformanceStage::foldsMeasured, this, &Session::foldsMeasured);
    connect(&performance_, &PerformanceStage::loopBounded, this, &Session::loopBounded);
    connect(&scoreSoon_, &QTimer::timeout, this, [this] {
        survey_.observe();
        performance_.measure();
        survey_.start();
        startBake(false);
        scatter_.startIfWanted(); // a score is played without waiting for its bake
        rehearsal_.startIfWanted();
    });
    connect(&survey_, &SurveyStage::changed, this, &Session::surveyed);
    connect(&survey_, &SurveyStage::failed, this, &Session::reloadFailed);
    connect(&bake_, &BakeStage::encodedChanged, this, &Session::bakeEncoded);
    connect(&bake_, &BakeStage::finished, this, [this] {
        takePlan();
        Q_EMIT bakeFinished();
        ladder_.startIfWanted();
        scatter_.startIfWanted();
        rehearsal_.startIfWanted();
        shipment_.sizeSoon();
    });
    connect(&ladder_, &LadderStage::changed, this, &Session::ladderChanged);
    connect(&scatter_, &ScatterStage::changed, this, &Session::scatterChanged);
    connect(&rehearsal_, &RehearsalStage::changed, this, &Session::rehearsalChanged);
    connect(&shipment_, &ShipStage::sizedChanged, this, &Session::shipSized);
    connect(&shipment_, &ShipStage::written, this, &Session::bundleWritten);
    connect(&shipment_, &ShipStage::failed, this, &Session::shipFailed);
}

Session::~Session() = default;

void Session::edit(const QString& text, const std::function<void(project::Document&)>& change, int gesture) {
    project::Document next = document_;
    change(next);
    motion::settleParameters(next.score);
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
    // Of what Scatter chooses, a bake ships the levels, and code says for which sizes its bounds hold.
    const auto shippedOf = [](const project::Document& of) {
        const scatter::Differences& copies = of.scatter.differences;
        return of.ship.asCode ? std::tuple(std::size_t{0}, copies.leastSize, copies.mostSize)
                              : std::tuple(std::size_t{of.scatter.levels}, 0.0f, 0.0f);
    };
    const bool shipsOther = shippedOf(document_) != shippedOf(document);
    document_ = document;
    if (shipsOther || changes & (kSourceChange | kRecipeChange | kShipChange | kScoreChange)) {
        shipment_.documentChanged();
    }
    if (changes & kRecipeChange) {
        survey_.observe(); // those who show the change ask for what is found
    }
    const bool rebakes = (changes & (kSourceChange | kScoreChange | kRecipeChange)) == kRecipeChange;
    if (rebakes) {
        startBake(false); // it works while the window shows the change
    }
    Q_EMIT documentChanged(changes);
    if (changes & (kScatterChange | kRecipeChange)) {
        scatter_.startIfWanted();
    }
    if (changes & kSourceChange) {
        source_.load(SourceStage::Load::fresh);
    } else if (changes & kScoreChange) {
        performance_.play();
    } else if (rebakes) {
        survey_.startIfRateChanged();
    } else if (shipsOther || changes & kShipChange) {
        shipment_.size();
        rehearsal_.choicesChanged();
    }
}

void Session::forgetLooks() {
    scoreSoon_.stop();
    marks_.clear();
    compared_.reset();
    shownJoint_ = -1;
    picked_ = -1;
    playhead_.setClips({});
}

void Session::takePlan() {
    playhead_.setClips(plan() ? bake::clipsOf(*plan()) : std::vector<bake::BakedClip>());
}

void Session::startBake(bool asked) {
    shipment_.stopSizing(); // of the bake before
    bake_.start(asked);
}

void Session::newProject() {
    shipment_.job().cancel();
    undo_.clear();
    file_.clear();
    document_ = {};
    source_.drop();
    forgetLooks();
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
    source_.load(SourceStage::Load::fresh);
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

} // namespace ripple::app
