#pragma once

#include "app/look/taken_places.h"
#include "app/session/bench_state.h"
#include "app/stage/camera.h"
#include "app/stage/looks.h"
#include "app/stage/offscreen_gl.h"
#include "app/stage/poser.h"
#include "app/stage/presentation.h"
#include "app/stage/scene_renderer.h"
#include "app/stage/score_handles.h"

#include <QImage>
#include <QTimer>
#include <QWidget>

#include <array>
#include <optional>
#include <span>

namespace ripple::app {

/// The model, drawn and handled: orbit with the left button, pan with the middle one (or Shift), zoom with
/// the wheel, click a vertex to pick it, drag the curtain.
class Stage : public QWidget {
    Q_OBJECT
public:
    explicit Stage(Session& session, QWidget* parent = nullptr);
    ~Stage() override;

    /// Looks at everything that moves.
    void frameModel(bool keepDirection = true);
    /// Turns so that the picked vertex can be seen from close by.
    void lookAtVertex(int vertex);
    bool curtainShown() const;
    QPointF curtainHandle() const; ///< where to take hold of it
    int verticesDrawn() const { return static_cast<int>(positions().size()); }
    /// Poses of the source; busy while one is being made in the background.
    const Poser& poser() const { return poser_; }
    /// Scores are drawn by the emitted code; without, by poses of the processor. For comparing the two.
    void drawScoresOnGpu(bool on) {
        scoresOnGpu_ = on;
        update();
    }
    /// Presents pictures in this way from now on, whatever suits the graphics card. For comparing the two.
    void present(Presentation how);
    Presentation presentation() const { return composed_ ? Presentation::composed : Presentation::painted; }
    /// A picture was read back from the graphics card.
    bool hasReadBack() const { return !renderer_.lastImage().isNull(); }
    /// Hides QWidget's: what is shown may be painted by another widget.
    void update() { composed_ ? composed_->update() : QWidget::update(); }
    /// Drafts have so many pixels for one that is shown, 0.5 to 1 in each direction, however slow or quick
    /// that is. For comparing them.
    void keepDraftPixels(double scale = 1.0) {
        keepsDraftPixels_ = true;
        draftScale_ = scale;
    }
    /// Drafts are drawn with fewer triangles.
    bool draftsCoarsely() const { return renderer_.hasCoarse(); }
    /// How long nothing must change before a draft is finished, milliseconds; below 0: drafts stay, for tests
    /// that look at something else.
    void setRest(int milliseconds) {
        finishes_ = milliseconds >= 0;
        settle_.setInterval(std::max(milliseconds, 0));
    }
    /// A finer picture of the same is to come.
    bool settling() const {
        return isVisible() && !session_.playhead().playing() &&
               (settle_.isActive() || finishing_ || pieces_.isActive() || prepareJob_.running() ||
                shadesJob_.running() || comparedPoser_.busy());
    }
    /// A finished picture of what there is to see is there.
    bool showsFinished() const { return !settling() && renderer_.isFinished(); }
    /// What is seen, finished.
    QImage picture();
    /// What can be taken hold of on the model: of the chosen voice, while nothing plays.
    std::vector<ScoreHandle> handles() const;
    QPointF handlePlace(const QString& name) const; ///< where it is seen
    /// The vertex whose value the mask look shows at the pointer; -1: none.
    int hoverVertex() const { return hoverVertex_; }
    /// What the present look measures.
    const Shades& shades() const { return shades_; }
    /// Why nothing is decoded though there is a bake; empty otherwise.
    QString bakeProblem() const { return renderer_.bakeProblem(); }
    /// As on a GPU that takes no larger texture; 0: this one's own limit. From the next bake on.
    void setLargestTexture(int side) { renderer_.setLargestTexture(side); }
    /// Milliseconds that the last picture took to draw, overlay left out.
    double drawMilliseconds() const { return drawMilliseconds_; }
    /// The bench of copies shows them now.
    bool showsCrowd() const;
    /// What is rehearsed is culled by the bounds of the rest pose, and they are out of the picture.
    bool restIsCulled() const;
    std::size_t copiesSeen() const { return renderer_.copiesSeen(); }
    std::size_t trianglesSeen() const { return renderer_.trianglesSeen(); }
    /// Where the ball is seen, and the head of the wind's arrow; for tests.
    std::optional<QPointF> ballPlace() const;
    std::optional<QPointF> windPlace() const;
    /// Where the source side shows a vertex at present.
    glm::vec3 sourcePosition(int vertex) const;

Q_SIGNALS:
    void drawn();

protected:
    void resizeEvent(QResizeEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    enum class Drag { none, orbit, pan, curtain, handle, ball, wind };

    void initialise();
    SceneView makeReady(bool draft);
    void drawModel(QPainter& painter);
    SharedPicture drawShared();
    /// What is drawn next is to be shown at once: the processor draws, and others may follow.
    bool draftsNow() const { return renderer_.isSoftware() && !composed_ && !finishing_; }
    /// Begins the next draft before it is painted.
    void drawAhead();
    void takeSource();
    void takeBake();
    void takeScore();
    /// Made of the source's mesh, which goes onto the graphics card now.
    void beginMesh(std::shared_ptr<const PreparedMesh> prepared);
    /// It can be drawn from here on.
    void meshIsThere();
    // stage_crowd.cpp: the bench of copies
    mesh::Bounds crowdArea() const;
    void changeCamera();
    void takeCrowd();
    void takeGround();
    CrowdView crowdView() const;
    void placeCrowd(SceneView& view);
    std::optional<glm::vec3> ballMiddle() const;
    /// What plays the score there: with the ball where it lies.
    std::shared_ptr<const motion::Performance> crowdPerformance() const;
    void dragBall(const QPointF& at);
    bool overBall(const QPointF& at) const;
    // stage_crowd_overlay.cpp
    std::optional<glm::vec3> windWay() const;
    float groundAt(const glm::vec3& place) const; ///< metres, of the copies' ground
    std::array<glm::vec3, 2> windArrow() const;   ///< tail and head on the ground
    bool overWind(const QPointF& at) const;
    void dragWind(const QPointF& at);
    void paintOnGround(QPainter& painter, const std::vector<glm::vec3>& line);
    void paintLevels(QPainter& painter);
    void paintWind(QPainter& painter);
    void paintClipLegend(QPainter& painter);
    void paintCrowd(QPainter& painter);
    void poseSource();
    void poseCompared();
    void takeCompared();
    /// What is played with faults at the right of the curtain; null: none, or they lie in what is decoded.
    std::shared_ptr<const bundle::Played> rehearsed() const;
    void paintRestBounds(QPainter& painter);
    void takePose();
    void refreshShades();
    void takeShades(Shades shades);
    void finish();
    /// As last posed by the processor.
    std::span<const glm::vec3> positions() const { return poser_.pose().positions; }
    void adaptDrafts();
    bool scoreIsDrawn() const;
    bool poseCanWait() const;
    void ensurePose();
    bool overCurtain(const QPointF& at) const;
    int vertexAt(const QPointF& at) const;
    QPointF project(const glm::vec3& point, bool* inFront = nullptr) const;
    void paintOverlay(QPainter& painter);
    void paintCurtain(QPainter& painter);
    void paintTripod(QPainter& painter);
    void paintPicked(QPainter& painter);
    void paintEdges(QPainter& painter, int vertex, TakenPlaces& places);
    void paintMarks(QPainter& painter);
    static void paintBar(QPainter& painter, const QPointF& from, const QPointF& to, const QColor& tone,
                         bool strong);
    void paintJoints(QPainter& painter);
    void paintLegend(QPainter& painter);
    QString handleUnder(const QPointF& at) const;
    Ray sight(const QPointF& at) const;
    void dragHandle(const QPointF& at);
    void hover(const QPointF& at);
    void paintHandles(QPainter& painter);
    void paintPlane(QPainter& painter, const ScoreHandle& handle) const;
    void paintRing(QPainter& painter, const ScoreHandle& handle) const;
    void paintWaves(QPainter& painter, const ScoreHandle& handle) const;
    bool isTouched(const ScoreHandle& handle) const; ///< held, or under the pointer
    void paintMark(QPainter& painter, const ScoreHandle& handle, const QColor& colour);
    void paintGrip(QPainter& painter, const ScoreHandle& handle, const QColor& colour);
    void paintCaptions(QPainter& painter, std::span<const ScoreHandle> seen);
    void paintHandleWords(QPainter& painter, std::span<const ScoreHandle> seen);
    static void paintChip(QPainter& painter, const QRectF& box, const QString& words);
    int jointAt(const QPointF& at) const;
    void paintMessage(QPainter& painter, const QString& title, const QString& words);
    float aspect() const { return static_cast<float>(width()) / static_cast<float>(std::max(height(), 1)); }
    float gridCell() const;
    float groundY() const;

    Session& session_;
    OffscreenGl gl_;
    SceneRenderer renderer_;
    std::unique_ptr<ComposedView> composed_; ///< covers this widget where the graphics card presents
    bool initialised_ = false;               ///< OpenGL was asked for
    bool ready_ = false;                     ///< and is there
    bool sourceDirty_ = true;
    bool bakeDirty_ = true;
    bool scoreDirty_ = true;
    bool poseDirty_ = true;
    bool framed_ = false;
    bool touched_ = false; ///< a person has turned the view, or works on the motion, since the source came
    std::shared_ptr<const bake::Baked> taken_; ///< what the renderer decodes
    Camera camera_;
    Camera otherCamera_; ///< of the model alone while copies are shown, and the other way
    bool crowdCamera_ = false;
    bool crowdFramed_ = false;
    bool crowdShown_ = false;
    bool crowdDirty_ = true;
    bool groundDirty_ = true;
    std::shared_ptr<const ScatterState> crowdTaken_;
    CrowdView crowdDrawn_;
    std::vector<std::string> imagesTaken_;
    mesh::Bounds bounds_;
    mesh::Bounds restBounds_;
    Poser poser_;
    Poser comparedPoser_; ///< of what the curtain compares with: another frame, or a rehearsal
    std::shared_ptr<const bundle::Played> rehearsedTaken_; ///< by that
    Shades shades_;
    bool shadesDirty_ = true;
    bool comparedDirty_ = true;
    glm::mat4 viewProjection_{1.0f};
    Drag drag_ = Drag::none;
    bool moved_ = false;
    bool hoverCurtain_ = false;
    QString heldHandle_; ///< names; empty: none
    QString hoverHandle_;
    QPointF heldOff_; ///< from the pointer to the middle of the handle that is held
    int handleGesture_ = 0;
    int hoverVertex_ = -1;
    QPointF last_;
    double drawMilliseconds_ = 0.0;
    bool ahead_ = false; ///< drawn since the last picture that was seen
    double aheadMilliseconds_ = 0.0;
    bool keepsDraftPixels_ = false;
    static constexpr double kLeastScale = 0.5; ///< of a draft
    double draftScale_ = 1.0;                  ///< of the next draft
    QTimer settle_;
    bool finishes_ = true;
    bool scoresOnGpu_ = true;
    LatestJob prepareJob_;     ///< of a large mesh
    LatestJob shadesJob_;      ///< of a large mesh
    std::string shadesLook_;   ///< the look that shades_ is of
    std::string measuredLook_; ///< the look that was measured last, or is
    std::shared_ptr<const PreparedMesh> prepared_;
    std::shared_ptr<const source::FrameSource> meshSource_; ///< whose mesh is drawn
    QTimer pieces_; ///< while a large mesh is put onto the graphics card, or a picture is finished, in pieces
    bool finishing_ = false; ///< the next picture is no draft
};

} // namespace ripple::app
