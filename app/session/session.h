#pragma once

#include "app/session/bake_stage.h"
#include "app/session/crowd_player.h"
#include "app/session/ladder_stage.h"
#include "app/session/performance_stage.h"
#include "app/session/playhead.h"
#include "app/session/rehearsal_stage.h"
#include "app/session/scatter_stage.h"
#include "app/session/ship_stage.h"
#include "app/session/source_stage.h"
#include "app/session/survey_stage.h"
#include "app/session/transition_player.h"
#include "project/document.h"

#include <QObject>
#include <QTimer>
#include <QUndoStack>

#include <algorithm>
#include <functional>
#include <memory>
#include <optional>

namespace ripple::app {

/// What of the document changed, as flags.
enum Change : unsigned {
    kSourceChange = 1,
    kRecipeChange = 2,
    kShipChange = 4,
    kViewChange = 8,
    kToleranceChange = 16,
    kScoreChange = 32,
    kScatterChange = 64
};

/// One open project: its document, the ways to change and to look at it, and the chain of stages that compute
/// what is shown (computed.h). Benches show it and call edit(); they never talk to each other.
class Session : public QObject {
    Q_OBJECT
public:
    explicit Session(QObject* parent = nullptr);
    ~Session() override;

    /// How far sources are believed, beside what the document says; for those opened from here on.
    void setTrust(const source::Trust& trust) { source_.setTrust(trust); }
    const source::Trust& trust() const { return source_.trust(); }

    /// How long a change must have come to rest before what takes longer follows it (bakes, surveys, bounds,
    /// folds): milliseconds; negative: nothing follows, what moves is only played.
    void setRest(int milliseconds) {
        shipment_.setRest(std::max(milliseconds, 0));
        scoreSoon_.setInterval(std::max(milliseconds, 0));
        follows_ = milliseconds >= 0;
    }

    const project::Document& document() const { return document_; }
    QUndoStack& undoStack() { return undo_; }
    Playhead& playhead() { return playhead_; }
    const Playhead& playhead() const { return playhead_; }
    /// A cross-fade of two of the playhead's clips, as it is looked at.
    TransitionPlayer& transition() { return transition_; }
    const TransitionPlayer& transition() const { return transition_; }

    /// Changes the document as one undo step named `text`. Steps with the same non-zero `gesture` merge into
    /// one, and vanish if they lead back to where they began.
    void edit(const QString& text, const std::function<void(project::Document&)>& change, int gesture = 0);
    /// A fresh gesture number, for one drag or one burst of typing.
    int newGesture() { return ++gestures_; }
    /// The gesture of a field's edit: that of the drag that goes on, else a fresh one.
    int gesture(bool continuing) { return continuing ? gestures_ : newGesture(); }
    /// Changes how the project is looked at. No undo step.
    void look(const std::function<void(project::View&)>& change);

    /// Opens a project (.curly) or starts a new one on a source.
    void open(const QString& path);
    /// Opens a project's choices as a project without a file: the file is somebody else's for now.
    void openCopy(const QString& projectFile);
    /// The project's file is another than it was when it was opened or saved here.
    bool changedOnDisk() const;
    void newProject();
    /// Opens what was left unsaved: the copy's choices under the project's name, as changes that are not
    /// saved.
    void restore(const QString& copy, const QString& projectFile);
    /// Throw base::Failure.
    void save();
    void saveAs(const QString& file);
    QString projectFile() const { return file_; }
    QString title() const;

    /// What moves: the opened source, by the score if there is one.
    std::shared_ptr<const source::FrameSource> source() const { return performance_.source(); }
    /// As it was opened, without a score.
    std::shared_ptr<const source::FrameSource> openedSource() const {
        return source_.result() ? source_.result()->source : nullptr;
    }
    /// The score made ready for the opened mesh; null without a mesh or voices, or while scoreProblem().
    std::shared_ptr<const motion::Performance> performance() const { return performance_.performance(); }
    /// How finely the mesh follows each voice; as many as voices once a change has come to rest.
    const std::vector<motion::Density>& densities() const { return performance_.densities(); }
    /// Holds the mesh wherever the score moves it in its loop; none until that is worked out. While a change
    /// is, those of before.
    const std::optional<motion::LoopBounds>& loopBounds() const { return performance_.loopBounds(); }
    /// What the score does to the surface at its worst; none until it is measured.
    const std::optional<motion::Folds>& folds() const { return performance_.folds(); }
    const std::optional<base::Problem>& scoreProblem() const { return performance_.problem(); }
    /// Empty while nothing is open.
    const inspect::MeshFacts& meshFacts() const;
    /// What reading all frames has shown so far; null before the first part.
    std::shared_ptr<const inspect::Survey> survey() const { return survey_.result(); }
    /// What was found in the source, worst first.
    const std::vector<inspect::Observation>& observations() const { return survey_.observations(); }
    void applyFix(const inspect::Fix& fix);
    /// Goes to the finding's frame and marks its vertices.
    void showObservation(const inspect::Observation& observation);
    /// At which times the playhead's frames lie; null while there is nothing to play.
    const bake::SamplePlan* plan() const { return performance_.plan(); }
    /// The frame of the whole clip where the playhead is, and the other way.
    double clipFrame() const;
    void goToClipFrame(std::size_t clip, double frame);
    /// What is kept of the clip at the playhead: a window of its `frames`, counted as clipFrame() does.
    struct KeptWindow {
        std::size_t clip = 0;
        bake::FrameWindow window;
        std::size_t frames = 0;
    };
    std::optional<KeptWindow> keptWindow() const;
    /// Frames of a clip of the source as the recipe samples it. Nothing while that would take poses of a
    /// large mesh, until the plan says it.
    std::optional<std::size_t> framesOf(std::size_t clip) const;
    /// `continuing`: the same drag goes on.
    void keepWindow(const bake::FrameWindow& window, bool continuing);
    std::shared_ptr<const BakeState> bake() const { return bake_.result(); }
    /// What is encoded; for a moment of another store, until its error is known, newer than bake().
    std::shared_ptr<const bake::Baked> encoded() const { return bake_.encoded(); }
    /// What is drawn of the bake: with the faults that are rehearsed, if any.
    std::shared_ptr<const bake::Baked> drawnBake() const {
        return rehearsal_.spoilt() ? rehearsal_.spoilt() : encoded();
    }
    /// True when the source is so large that it is baked only when asked.
    bool bakeHeld() const { return bake_.held(); }
    std::size_t bakeBytes() const { return bake_.bytes(); } ///< memory that its frames take
    /// What other ways to store would cost; null until it was wanted. Grows while ladderJob() runs.
    std::shared_ptr<const bake::Ladder> ladder() const { return ladder_.result(); }
    /// Whoever shows the ladder says so: it is only made while it is seen.
    void wantLadder(bool wanted) { ladder_.want(wanted); }
    /// Stores as that rung does.
    void takeRung(const bake::Rung& rung);
    LatestJob& ladderJob() { return ladder_.job(); }
    /// Copies as the document says; null until they were wanted.
    std::shared_ptr<const ScatterState> scatter() const { return scatter_.result(); }
    const std::optional<base::Problem>& scatterProblem() const { return scatter_.problem(); }
    /// Whoever shows the copies says so: they are only made while they are seen.
    void wantScatter(bool wanted) { scatter_.want(wanted); }
    LatestJob& scatterJob() { return scatter_.job(); }
    /// The copies as they move.
    CrowdPlayer& crowd() { return crowd_; }
    const CrowdPlayer& crowd() const { return crowd_; }
    /// Mistakes at import, tried on the bake.
    RehearsalStage& rehearsal() { return rehearsal_; }
    const RehearsalStage& rehearsal() const { return rehearsal_; }
    std::shared_ptr<const ShipState> ship() const { return shipment_.sized(); }
    /// Whether the sizes of what would be written are looked at.
    void wantSizes(bool wanted) { shipment_.want(wanted); }
    const std::optional<base::Problem>& sourceProblem() const { return source_.problem(); }
    const std::optional<base::Problem>& bakeProblem() const { return bake_.problem(); }
    LatestJob& sourceJob() { return source_.job(); }
    LatestJob& surveyJob() { return survey_.job(); }
    LatestJob& bakeJob() { return bake_.job(); }
    LatestJob& shipJob() { return shipment_.job(); }
    /// Metres, bake::assetSize of what is open; 0 before.
    double assetSize() const { return source_.result() ? source_.result()->size : 0.0; }
    /// The document's tolerance for what is open: metres.
    double tolerance() const;
    /// The bake's maximum error is over the tolerance.
    bool overTolerance() const { return bake() && !withinTolerance(bake()->error); }
    bool withinTolerance(const bake::ErrorReport& error) const { return error.all.max <= tolerance(); }
    /// Something that comes after a bake, or before it, is on its way.
    bool sizing() const { return shipment_.sizing() || scoreSoon_.isActive() || performance_.working(); }

    /// Says that something of the source could not be had; what is there stays.
    void sourceReadFailed(const QString& words) { Q_EMIT reloadFailed(words); }
    /// Tells of something that went well, in words.
    void say(const QString& words) { Q_EMIT said(words); }
    /// Reads the source's files again, keeping all choices that still apply.
    void reloadSource();
    /// Bakes what the document says; called by itself after each change unless bakeHeld().
    void rebake() { startBake(true); }
    /// Writes the bundle to document().ship and checks it. The result comes as bundleWritten() or
    /// shipFailed().
    void writeBundle() { shipment_.write(); }
    QString bundleFolder() const { return shipment_.folder(); }
    std::shared_ptr<const bundle::CheckReport> lastCheck() const { return shipment_.check(); }
    /// A bundle was written, and what was chosen is another by now.
    bool changedSinceWritten() const { return shipment_.changedSinceWritten(); }
    const std::optional<base::Problem>& shipProblem() const { return shipment_.problem(); }

    int pickedVertex() const { return picked_; }
    void pickVertex(int vertex);
    const std::vector<std::uint32_t>& marks() const { return marks_; }
    void mark(std::vector<std::uint32_t> vertices);
    /// The frame of the whole clip that the curtain compares with on the Gather bench; none: no curtain.
    std::optional<double> compared() const { return compared_; }
    void compareWith(std::optional<double> clipFrame);
    /// The joint whose weights the joints look shows; -1: all in turn.
    int shownJoint() const { return shownJoint_; }
    void showJoint(int joint);
    /// Asks whoever draws the model to look at a vertex from close by.
    void showVertex(int vertex) { Q_EMIT vertexWanted(vertex); }
    /// Goes to the vertex and the frame of the bake's maximum error.
    void showWorst();

Q_SIGNALS:
    void documentChanged(unsigned changes);
    void projectFileChanged();
    void sourceLoaded();
    /// Another score moves the same mesh.
    void scoreChanged();
    /// A moment after scoreChanged().
    void densitiesMeasured();
    void foldsMeasured();
    void loopBounded();
    /// After sourceLoaded(), when the files had changed on disk.
    void sourceReloaded(const QStringList& changes);
    void reloadFailed(const QString& words);
    void said(const QString& words);
    void surveyed();
    void marksChanged();
    void comparedChanged();
    void shownJointChanged();
    void bakeEncoded();
    void bakeFinished();
    void ladderChanged();
    void scatterChanged();
    void rehearsalChanged();
    void shipSized();
    void bundleWritten();
    void shipFailed();
    void picked(int vertex);
    void vertexWanted(int vertex);

private:
    friend class DocumentEdit;
    void apply(const project::Document& document);
    void connectStages();
    /// Nothing is marked or picked any more, and nothing plays.
    void forgetLooks();
    void takeSource(bool again, const QStringList& changes);
    void startBake(bool asked);
    void takePlan();

    project::Document document_;
    QString file_;
    std::string stamp_; ///< digest of the project's file as it was opened or saved
    QUndoStack undo_;
    int gestures_ = 0;
    Playhead playhead_;
    TransitionPlayer transition_{playhead_};
    int picked_ = -1;
    std::vector<std::uint32_t> marks_;
    std::optional<double> compared_;
    int shownJoint_ = -1;
    struct KnownFrames {
        std::weak_ptr<const source::FrameSource> source;
        std::size_t clip = 0;
        double fps = 0.0;
        bake::Closing closing = bake::Closing::drop;
        std::size_t frames = 0;
    };
    mutable std::vector<KnownFrames> knownFrames_; ///< of framesOf(), the newest last
    bool follows_ = true;                          ///< more than playing follows a change
    QTimer scoreSoon_;                             ///< until a change of the score has come to rest

    // The chain, from the top.
    SourceStage source_{document_};
    PerformanceStage performance_{document_, source_};
    SurveyStage survey_{document_, source_, performance_};
    BakeStage bake_{performance_};
    LadderStage ladder_{performance_, bake_};
    ScatterStage scatter_{document_, performance_, bake_};
    CrowdPlayer crowd_{playhead_, scatter_};
    ShipStage shipment_{document_, performance_, bake_};
    RehearsalStage rehearsal_{performance_, bake_, shipment_};
};

} // namespace ripple::app
