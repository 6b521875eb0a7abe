#pragma once

#include "app/jobs/latest_job.h"
#include "app/session/playhead.h"
#include "bake/bake.h"
#include "bake/error.h"
#include "bake/ladder.h"
#include "bundle/check.h"
#include "bundle/write_bundle.h"
#include "inspect/inspection.h"
#include "motion/density.h"
#include "motion/folds.h"
#include "project/document.h"
#include "source/frame_source.h"
#include "source/open.h"

#include <QObject>
#include <QTimer>
#include <QUndoStack>

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
    kScoreChange = 32
};

/// What a bake of the document gives, with its errors. Never changes once made.
struct BakeState {
    bake::SamplePlan plan;
    std::shared_ptr<const bake::Frames> frames;
    std::shared_ptr<const bake::Frames> probes;
    bake::Baked baked;
    bake::ErrorReport error;
    std::vector<bake::Motion> motion; ///< clips, from kept frame to kept frame
    std::vector<bake::Seam> seams;    ///< clips

    bake::TextureReader reader(const mesh::Mesh& mesh) const {
        return {baked.textures, baked.columnOfVertex, mesh.positions, mesh.normals};
    }
};

/// A source as it was opened, with what its mesh shows at once. Never changes once made.
struct OpenedSource {
    std::shared_ptr<const source::FrameSource> source;
    inspect::MeshFacts facts;
    std::optional<bake::SamplePlan> plan; ///< none if the recipe does not fit it
    std::vector<std::string> changes;     ///< of a source that was read again: what differs, what was dropped
    source::Reading reading;              ///< with which it was opened in the end
};

/// A file that shipping would write.
struct ShipFile {
    std::string file;
    std::size_t bytes = 0;
};

struct ShipState {
    bundle::Manifest manifest;
    std::vector<ShipFile> files;
    std::size_t notesBytes = 0; ///< manifest and IMPORT.md, to within the digits of the measured error
    std::string code;           ///< GLSL
};

/// One open project: its document, what is computed from it, and the ways to change it. Benches show it and
/// call edit(); they never talk to each other.
class Session : public QObject {
    Q_OBJECT
public:
    explicit Session(QObject* parent = nullptr);
    ~Session() override;

    /// How far sources are believed, beside what the document says; for those opened from here on.
    void setTrust(const source::Trust& trust) { trust_ = trust; }
    const source::Trust& trust() const { return trust_; }

    /// How long a change must have come to rest before what takes longer follows it: milliseconds.
    void setRest(int milliseconds) {
        sizeSoon_.setInterval(milliseconds);
        scoreSoon_.setInterval(milliseconds);
    }

    const project::Document& document() const { return document_; }
    QUndoStack& undoStack() { return undo_; }
    Playhead& playhead() { return playhead_; }
    const Playhead& playhead() const { return playhead_; }

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
    std::shared_ptr<const source::FrameSource> source() const { return source_; }
    /// As it was opened, without a score.
    std::shared_ptr<const source::FrameSource> openedSource() const { return opened_; }
    /// The score made ready for the opened mesh; null without a mesh or voices, or while scoreProblem().
    std::shared_ptr<const motion::Performance> performance() const { return performance_; }
    /// How finely the mesh follows each voice; as many as voices once a change has come to rest.
    const std::vector<motion::Density>& densities() const { return densities_; }
    /// Holds the mesh wherever the score moves it in its loop; none until that is worked out. While a change
    /// is, those of before.
    const std::optional<mesh::Bounds>& loopBounds() const { return loopBounds_; }
    /// What the score does to the surface at its worst; none until it is measured.
    const std::optional<motion::Folds>& folds() const { return folds_; }
    const std::optional<base::Problem>& scoreProblem() const { return scoreProblem_; }
    const inspect::MeshFacts& meshFacts() const { return meshFacts_; }
    /// What reading all frames has shown so far; null before the first part.
    std::shared_ptr<const inspect::Survey> survey() const { return survey_; }
    /// What was found in the source, worst first.
    const std::vector<inspect::Observation>& observations() const { return observations_; }
    void applyFix(const inspect::Fix& fix);
    /// Goes to the finding's frame and marks its vertices.
    void showObservation(const inspect::Observation& observation);
    /// At which times the playhead's frames lie; null while there is nothing to play.
    const bake::SamplePlan* plan() const { return plan_ ? &*plan_ : nullptr; }
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
    /// Frames of a clip of the source as the recipe samples it.
    std::size_t framesOf(std::size_t clip) const;
    /// `continuing`: the same drag goes on.
    void keepWindow(const bake::FrameWindow& window, bool continuing);
    std::shared_ptr<const BakeState> bake() const { return bake_; }
    /// What is encoded; for a moment of another store, until its error is known, newer than bake().
    std::shared_ptr<const bake::Baked> encoded() const { return encoded_; }
    /// True when the source is so large that it is baked only when asked.
    bool bakeHeld() const { return bakeHeld_; }
    std::size_t bakeBytes() const { return bakeBytes_; } ///< memory that its frames take
    /// What other ways to store would cost; null until it was wanted. Grows while ladderJob() runs.
    std::shared_ptr<const bake::Ladder> ladder() const { return ladder_; }
    /// Whoever shows the ladder says so: it is only made while it is seen.
    void wantLadder(bool wanted);
    /// Stores as that rung does.
    void takeRung(const bake::Rung& rung);
    LatestJob& ladderJob() { return ladderJob_; }
    std::shared_ptr<const ShipState> ship() const { return ship_; }
    const std::optional<base::Problem>& sourceProblem() const { return sourceProblem_; }
    const std::optional<base::Problem>& bakeProblem() const { return bakeProblem_; }
    LatestJob& sourceJob() { return sourceJob_; }
    LatestJob& surveyJob() { return surveyJob_; }
    LatestJob& bakeJob() { return bakeJob_; }
    LatestJob& shipJob() { return writeJob_; }
    double assetSize() const { return size_; } ///< metres, bake::assetSize of what is open; 0 before
    /// The document's tolerance for what is open: metres.
    double tolerance() const;
    /// The bake's maximum error is over the tolerance.
    bool overTolerance() const { return bake_ && !withinTolerance(bake_->error); }
    bool withinTolerance(const bake::ErrorReport& error) const { return error.all.max <= tolerance(); }
    bool sizing() const { return sizeJob_.running() || sizeSoon_.isActive() || scoreSoon_.isActive(); }

    /// Reads the source's files again, keeping all choices that still apply.
    void reloadSource();
    /// Bakes what the document says; called by itself after each change unless bakeHeld().
    void rebake();
    /// Writes the bundle to document().ship and checks it. The result comes as bundleWritten() or
    /// shipFailed().
    void writeBundle();
    QString bundleFolder() const;
    std::shared_ptr<const bundle::CheckReport> lastCheck() const { return check_; }
    /// A bundle was written, and what was chosen is another by now.
    bool changedSinceWritten() const { return changedSinceWritten_; }
    const std::optional<base::Problem>& shipProblem() const { return shipProblem_; }

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
    void surveyed();
    void marksChanged();
    void comparedChanged();
    void shownJointChanged();
    void bakeEncoded();
    void bakeFinished();
    void ladderChanged();
    void shipSized();
    void bundleWritten();
    void shipFailed();
    void picked(int vertex);
    void vertexWanted(int vertex);

private:
    friend class DocumentEdit;
    void apply(const project::Document& document);
    enum class Load { fresh, again };
    void loadSource(Load load = Load::fresh);
    void takeSource(OpenedSource opened, Load load);
    void startSurvey();
    void playScore();
    void takeScore();
    void measureDensities();
    void startBounds();
    void startFolds();
    /// The document's recipe without clips that what moves does not have.
    bake::Recipe fittingRecipe() const;
    void refreshObservations();
    void bakeIfSmall();
    void startBake(bool asked);
    void startLadder();
    void sizeShip();
    source::Trust trust_;
    std::string stamp_;            ///< digest of the project's file as it was opened or saved
    bundle::Origin origin() const; ///< of what is baked: goes into the manifest
    void resetComputed();

    project::Document document_;
    QString file_;
    QUndoStack undo_;
    int gestures_ = 0;
    Playhead playhead_;
    std::shared_ptr<const source::FrameSource> source_;
    std::shared_ptr<const source::FrameSource> opened_;
    std::shared_ptr<const motion::Performance> performance_;
    std::optional<base::Problem> scoreProblem_;
    std::vector<motion::Density> densities_;
    std::optional<mesh::Bounds> loopBounds_;
    std::optional<motion::Folds> folds_;
    LatestJob boundsJob_;
    LatestJob foldsJob_;
    QTimer scoreSoon_;
    std::optional<base::Problem> sourceProblem_;
    inspect::MeshFacts meshFacts_;
    std::shared_ptr<const inspect::Survey> survey_;
    std::vector<inspect::Observation> observations_;
    std::optional<bake::SamplePlan> plan_;
    std::vector<std::uint32_t> marks_;
    std::optional<double> compared_;
    int shownJoint_ = -1;
    bool bakeHeld_ = false;
    std::size_t bakeBytes_ = 0;
    struct KnownFrames {
        std::weak_ptr<const source::FrameSource> source;
        std::size_t clip = 0;
        double fps = 0.0;
        bake::Closing closing = bake::Closing::drop;
        std::size_t frames = 0;
    };
    mutable std::vector<KnownFrames> knownFrames_; ///< of framesOf(), the newest last
    double size_ = 0.0;                            ///< metres, of opened_: bake::assetSize
    double surveyedRate_ = 0.0;                    ///< the recipe's rate that survey_ was made with
    std::shared_ptr<const BakeState> bake_;
    std::shared_ptr<const bake::Baked> encoded_;
    std::optional<bake::Recipe> sampledRecipe_; ///< the recipe of bake_
    std::optional<base::Problem> bakeProblem_;
    std::shared_ptr<const bake::Ladder> ladder_;
    std::optional<bake::Recipe> ladderRecipe_; ///< of ladder_, without what it varies
    bool ladderWanted_ = false;
    std::shared_ptr<const ShipState> ship_;
    std::shared_ptr<const bundle::CheckReport> check_;
    bool changedSinceWritten_ = false;
    std::optional<base::Problem> shipProblem_;
    int picked_ = -1;
    LatestJob sourceJob_;
    LatestJob surveyJob_;
    LatestJob bakeJob_;
    LatestJob ladderJob_;
    LatestJob sizeJob_;
    QTimer sizeSoon_;
    LatestJob writeJob_;
};

} // namespace ripple::app
