#include "app/stage/stage.h"

#include "app/shell/theme.h"
#include "base/units.h"

#include <QElapsedTimer>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include <glm/geometric.hpp>

namespace ripple::app {

namespace {

constexpr double kGrip = 10.0; // pixels beside the curtain that still take hold of it
constexpr double kHandleUp = 74.0;

constexpr int kSettleMilliseconds = 160;

Look lookNamed(const std::string& name) {
    return name == "wire"      ? Look::wire
           : name == "uv-grid" ? Look::uvGrid
           : name == "normals" ? Look::normals
           : name == "colours" || name == "joints" || name == "speed" || name == "error" || name == "mask" ||
                   name == "density" || name == "strain"
               ? Look::shades
               : Look::lit;
}

} // namespace

Stage::Stage(Session& session, QWidget* parent) : QOpenGLWidget(parent), session_(session) {
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    format.setDepthBufferSize(24);
    format.setSamples(0); // the renderer has its own
    setFormat(format);
    setObjectName("stage");
    setMouseTracking(true);
    setFocusPolicy(Qt::ClickFocus);
    setMinimumSize(320, 240);
    setAccessibleName(tr("The model"));
    settle_.setSingleShot(true);
    settle_.setInterval(kSettleMilliseconds);
    connect(&settle_, &QTimer::timeout, this, [this] {
        finishing_ = true;
        update();
    });
    connect(&session_, &Session::sourceLoaded, this, [this] {
        sourceDirty_ = bakeDirty_ = scoreDirty_ = poseDirty_ = true;
        framed_ = false;
        update();
    });
    connect(&session_, &Session::scoreChanged, this, [this] {
        poser_.setSource(session_.source());
        scoreDirty_ = poseDirty_ = shadesDirty_ = true;
        update();
    });
    connect(&session_, &Session::bakeFinished, this, [this] {
        bakeDirty_ = poseDirty_ = shadesDirty_ = true;
        update();
    });
    connect(&session_.playhead(), &Playhead::moved, this, [this] {
        poseDirty_ = true;
        update();
    });
    connect(&session_, &Session::documentChanged, this, [this](unsigned changes) {
        if (changes & kViewChange) {
            poseDirty_ = shadesDirty_ = comparedDirty_ = true;
            update();
        }
    });
    connect(&poser_, &Poser::ready, this, [this] {
        takePose();
        update();
    });
    connect(&session_, &Session::comparedChanged, this, [this] {
        comparedDirty_ = true;
        update();
    });
    connect(&session_, &Session::shownJointChanged, this, [this] {
        shadesDirty_ = true;
        update();
    });
    connect(&session_, &Session::surveyed, this, [this] {
        bounds_.add(session_.survey()->bounds);
        if (session_.survey()->complete && !touched_) {
            frameModel(true); // what moves is known only now
        }
        update();
    });
    connect(&session_, &Session::marksChanged, this, qOverload<>(&QWidget::update));
    connect(&session_, &Session::picked, this, qOverload<>(&QWidget::update));
}

Stage::~Stage() {
    if (ready_) {
        makeCurrent();
        renderer_.release();
        doneCurrent();
    }
}

void Stage::initializeGL() {
    ready_ = renderer_.initialise();
    sourceDirty_ = bakeDirty_ = poseDirty_ = true;
}

void Stage::resizeGL(int, int) {
    if (!framed_) {
        frameModel(false);
    }
}

void Stage::frameModel(bool keepDirection) {
    // What the playing clip covers: another clip's long reach must not make this one small.
    mesh::Bounds seen = bounds_;
    const auto survey = session_.survey();
    const bake::SamplePlan* plan = session_.plan();
    const auto index = static_cast<std::size_t>(session_.playhead().clipIndex());
    if (survey && plan && index < plan->clips.size()) {
        const inspect::ClipSurvey& clip = survey->clips[plan->clips[index].clip];
        seen = clip.framesRead == clip.extent.frames ? clip.bounds : seen;
    }
    camera_.frame(seen, aspect(), keepDirection);
    update();
}

void Stage::lookAtVertex(int vertex) {
    if (vertex < 0 || static_cast<std::size_t>(vertex) >= positions().size()) {
        return;
    }
    mesh::Bounds near;
    const glm::vec3 p = positions()[static_cast<std::size_t>(vertex)];
    const glm::vec3 reach(0.18f * bounds_.diagonal());
    near.add(p - reach);
    near.add(p + reach);
    camera_.frame(near, aspect(), true);
    update();
}

glm::vec3 Stage::sourcePosition(int vertex) const {
    return positions()[static_cast<std::size_t>(vertex)];
}

float Stage::gridCell() const {
    // A round length, about a third of the model.
    const float wanted = std::max(bounds_.diagonal(), 1e-3f) / 3.0f;
    const float power = std::pow(10.0f, std::floor(std::log10(wanted)));
    const float lead = wanted / power;
    return power * (lead >= 5.0f ? 5.0f : lead >= 2.0f ? 2.0f : 1.0f);
}

float Stage::groundY() const {
    const float low = bounds_.empty() ? 0.0f : bounds_.min.y;
    return low < -0.02f * bounds_.diagonal() ? low : 0.0f;
}

bool Stage::curtainShown() const {
    const std::string& bench = session_.document().view.bench;
    const bool decoded = (bench == "bake" || bench == "ship") && session_.bake();
    const bool compared = bench == "gather" && session_.compared();
    return ready_ && session_.source() && (decoded || compared);
}

QPointF Stage::curtainHandle() const {
    return {session_.document().view.curtain * width(), height() - kHandleUp};
}

QImage Stage::picture() {
    finishing_ = true;
    return grabFramebuffer();
}

void Stage::paintGL() {
    QElapsedTimer clock;
    clock.start();
    QPainter painter;
    if (!ready_) {
        painter.begin(this);
        painter.fillRect(rect(), theme().ground);
        paintMessage(painter, tr("The model can't be drawn here"), renderer_.problem());
        return;
    }
    if (sourceDirty_) {
        takeSource();
    }
    if (bakeDirty_) {
        takeBake();
    }
    if (scoreDirty_) {
        takeScore();
    }
    if (poseDirty_) {
        poseSource();
    }
    if (comparedDirty_) {
        poseCompared();
    }
    if (shadesDirty_) {
        refreshShades();
    }
    SceneView view;
    const qreal ratio = devicePixelRatio();
    view.width = static_cast<int>(width() * ratio);
    view.height = static_cast<int>(height() * ratio);
    viewProjection_ = camera_.projection(aspect()) * camera_.view();
    view.viewProjection = viewProjection_;
    view.eye = camera_.eye();
    view.curtain = curtainShown() ? static_cast<int>(session_.document().view.curtain * view.width) : -1;
    view.compared = session_.document().view.bench == "gather";
    view.look = lookNamed(session_.document().view.look);
    if (view.look == Look::shades && shades_.colours.empty()) {
        view.look = Look::lit; // this source has nothing of the kind
    }
    view.clip = session_.playhead().clipIndex();
    view.frame = static_cast<float>(session_.playhead().frame());
    view.gridCell = gridCell();
    view.groundY = groundY();
    view.bounds = bounds_;
    view.scored = scoresOnGpu_ && session_.document().view.bench == "move" && renderer_.hasScore();
    view.turn = view.scored ? static_cast<float>(session_.playhead().turn()) : 0.0f;
    // Where the processor draws, a picture that others may follow at once is a draft; the finished one comes
    // when nothing has changed for a moment.
    view.draft = renderer_.isSoftware() && !finishing_;
    finishing_ = false;
    if (renderer_.draw(view)) {
        settle_.start();
    }
    drawMilliseconds_ = static_cast<double>(clock.nsecsElapsed()) * 1e-6;
    painter.begin(this);
    painter.setRenderHint(QPainter::Antialiasing);
    paintOverlay(painter);
    painter.end();
    Q_EMIT drawn();
}

QPointF Stage::project(const glm::vec3& point, bool* inFront) const {
    const glm::vec4 clip = viewProjection_ * glm::vec4(point, 1.0f);
    if (inFront) {
        *inFront = clip.w > 0.0f;
    }
    const float w = clip.w != 0.0f ? clip.w : 1.0f;
    return {(clip.x / w * 0.5f + 0.5f) * static_cast<float>(width()),
            (0.5f - clip.y / w * 0.5f) * static_cast<float>(height())};
}

bool Stage::overCurtain(const QPointF& at) const {
    return curtainShown() && std::abs(at.x() - curtainHandle().x()) <= kGrip;
}

int Stage::jointAt(const QPointF& at) const {
    constexpr double kReach = 12.0; // pixels
    int best = -1;
    double nearest = kReach;
    const auto& joints = poser_.pose().joints;
    for (std::size_t j = 0; j < joints.size(); ++j) {
        bool inFront = false;
        const QPointF seen = project(joints[j], &inFront);
        const double away = std::hypot(seen.x() - at.x(), seen.y() - at.y());
        if (inFront && away < nearest) {
            best = static_cast<int>(j);
            nearest = away;
        }
    }
    return best;
}

int Stage::vertexAt(const QPointF& at) const {
    constexpr double kReach = 14.0; // pixels
    int best = -1;
    double bestScore = std::numeric_limits<double>::max();
    for (std::size_t v = 0; v < positions().size(); ++v) {
        const glm::vec4 clip = viewProjection_ * glm::vec4(positions()[v], 1.0f);
        if (clip.w <= 0.0f) {
            continue;
        }
        const QPointF seen((clip.x / clip.w * 0.5f + 0.5f) * static_cast<float>(width()),
                           (0.5f - clip.y / clip.w * 0.5f) * static_cast<float>(height()));
        const double away = std::hypot(seen.x() - at.x(), seen.y() - at.y());
        // Nearer the eye wins over nearer the pointer: what is behind can't be meant.
        const double score = away + static_cast<double>(clip.w / camera_.distance()) * 40.0;
        if (away < kReach && score < bestScore) {
            best = static_cast<int>(v);
            bestScore = score;
        }
    }
    return best;
}

void Stage::mousePressEvent(QMouseEvent* event) {
    last_ = event->position();
    moved_ = false;
    if (event->button() == Qt::LeftButton && overCurtain(last_)) {
        drag_ = Drag::curtain;
    } else if (event->button() == Qt::MiddleButton ||
               (event->button() == Qt::LeftButton && (event->modifiers() & Qt::ShiftModifier))) {
        drag_ = Drag::pan;
    } else if (event->button() == Qt::LeftButton) {
        drag_ = Drag::orbit;
    }
}

void Stage::mouseMoveEvent(QMouseEvent* event) {
    const QPointF at = event->position();
    const QPointF way = at - last_;
    last_ = at;
    moved_ = moved_ || std::abs(way.x()) + std::abs(way.y()) > 1.0;
    switch (drag_) {
    case Drag::none: {
        const bool over = overCurtain(at);
        if (over != hoverCurtain_) {
            hoverCurtain_ = over;
            setCursor(over ? Qt::SplitHCursor : Qt::ArrowCursor);
            update();
        }
        return;
    }
    case Drag::orbit:
        touched_ = true;
        camera_.orbit(static_cast<float>(way.x()) * 0.008f, static_cast<float>(way.y()) * 0.008f);
        break;
    case Drag::pan:
        camera_.pan({static_cast<float>(way.x()), static_cast<float>(way.y())}, static_cast<float>(height()));
        break;
    case Drag::curtain:
        session_.look(
            [&](project::View& view) { view.curtain = std::clamp(at.x() / std::max(width(), 1), 0.0, 1.0); });
        break;
    }
    update();
}

void Stage::mouseReleaseEvent(QMouseEvent* event) {
    if (drag_ == Drag::orbit && !moved_ && event->button() == Qt::LeftButton) {
        const int joint = session_.document().view.look == "joints" ? jointAt(event->position()) : -1;
        if (joint >= 0) {
            session_.showJoint(joint);
        } else {
            session_.pickVertex(vertexAt(event->position()));
        }
    }
    drag_ = Drag::none;
    update();
}

void Stage::mouseDoubleClickEvent(QMouseEvent*) {
    frameModel(true);
}

void Stage::wheelEvent(QWheelEvent* event) {
    touched_ = true;
    camera_.zoom(std::pow(0.9985f, static_cast<float>(event->angleDelta().y())));
    update();
    event->accept();
}

void Stage::leaveEvent(QEvent*) {
    hoverCurtain_ = false;
    unsetCursor();
    update();
}

} // namespace ripple::app
