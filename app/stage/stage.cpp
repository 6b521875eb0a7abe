#include "app/stage/stage.h"

#include "app/look/theme.h"
#include "base/units.h"

#include <QElapsedTimer>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::app {

namespace {

constexpr double kHandleUp = 74.0;

constexpr int kSettleMilliseconds = 160;

} // namespace

Stage::Stage(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
    setObjectName("stage");
    setMouseTracking(true);
    setFocusPolicy(Qt::ClickFocus);
    setMinimumSize(320, 240);
    setAccessibleName(tr("The model"));
    settle_.setSingleShot(true);
    settle_.setInterval(kSettleMilliseconds);
    connect(&settle_, &QTimer::timeout, this, &Stage::finish);
    connect(&pieces_, &QTimer::timeout, this, [this] {
        constexpr int kWhile = 25; // milliseconds between events
        Pieces& pieces = prepared_ ? renderer_.meshPieces() : renderer_.finishPieces();
        if (gl_.makeCurrent()) {
            pieces.work(kWhile);
        }
        if (pieces.empty()) {
            pieces_.stop();
            if (prepared_) {
                meshIsThere();
            }
            update();
        }
    });
    connect(&comparedPoser_, &Poser::ready, this, [this] {
        takeCompared();
        update();
    });
    connect(&session_, &Session::sourceLoaded, this, [this] {
        sourceDirty_ = bakeDirty_ = scoreDirty_ = poseDirty_ = true;
        framed_ = crowdFramed_ = false;
        update();
    });
    connect(&session_, &Session::scoreChanged, this, [this] {
        poser_.replaceSource(session_.source());
        comparedPoser_.replaceSource(session_.source());
        rehearsedTaken_.reset();
        comparedDirty_ = true;
        touched_ = true; // who works on a motion keeps the view of it
        scoreDirty_ = poseDirty_ = shadesDirty_ = true;
        drawAhead();
        update();
    });
    connect(&session_, &Session::bakeEncoded, this, [this] {
        bakeDirty_ = true;
        update();
    });
    connect(&session_, &Session::rehearsalChanged, this, [this] {
        if (session_.drawnBake() != taken_ || rehearsed() != rehearsedTaken_) {
            bakeDirty_ = shadesDirty_ = comparedDirty_ = true;
            update();
        }
    });
    connect(&session_, &Session::bakeFinished, this, [this] {
        bakeDirty_ = poseDirty_ = shadesDirty_ = true;
        update();
    });
    connect(&session_.playhead(), &Playhead::moved, this, [this] {
        poseDirty_ = true;
        comparedDirty_ = comparedDirty_ || rehearsed();
        update();
    });
    connect(&session_.transition(), &TransitionPlayer::changed, this, [this] { update(); });
    connect(&session_.crowd(), &CrowdPlayer::moved, this, [this] {
        crowdDirty_ = true;
        update();
    });
    connect(&session_.crowd(), &CrowdPlayer::rebuilt, this, [this] { update(); });
    connect(&session_.crowd(), &CrowdPlayer::ballMoved, this, [this] {
        scoreDirty_ = true;
        update();
    });
    connect(&session_, &Session::documentChanged, this, [this](unsigned changes) {
        if (changes & kViewChange) {
            poseDirty_ = shadesDirty_ = comparedDirty_ = true;
            scoreDirty_ = scoreDirty_ || benchOf(session_.document().view).copies != crowdCamera_;
            update();
        }
        if (changes & kScatterChange) {
            scoreDirty_ = true; // the ball comes or goes
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
        if (session_.survey()->complete && !touched_ && !crowdCamera_) {
            frameModel(true); // what moves is known only now
        }
        update();
    });
    connect(&session_, &Session::marksChanged, this, &Stage::update);
    connect(&session_, &Session::picked, this, &Stage::update);
}

Stage::~Stage() {
    composed_.reset(); // it asks this for pictures
    if (ready_ && gl_.makeCurrent()) {
        renderer_.release();
        gl_.doneCurrent();
    }
}

void Stage::initialise() {
    initialised_ = true;
    ready_ = gl_.create() && renderer_.initialise();
    if (ready_ && presentationFor(renderer_.isSoftware()) == Presentation::composed) {
        // Not while this is being painted.
        QTimer::singleShot(0, this, [this] { present(Presentation::composed); });
    }
    sourceDirty_ = bakeDirty_ = scoreDirty_ = poseDirty_ = true;
}

void Stage::present(Presentation how) {
    if (how == presentation()) {
        return;
    }
    if (how == Presentation::painted) {
        composed_.reset();
    } else {
        composed_ = std::make_unique<ComposedView>([this] { return drawShared(); },
                                                   [this](QPainter& painter) {
                                                       paintOverlay(painter);
                                                       painter.end();
                                                       Q_EMIT drawn();
                                                   },
                                                   this);
        composed_->setGeometry(rect());
        composed_->lower(); // below the buttons of the looks
        composed_->show();
    }
    update();
}

void Stage::resizeEvent(QResizeEvent*) {
    if (composed_) {
        composed_->setGeometry(rect());
    }
    if (!framed_ && !crowdCamera_) {
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
    if (crowdCamera_) {
        camera_.lookAcross(crowdArea());
    } else {
        camera_.frame(seen, aspect(), keepDirection);
    }
    update();
}

void Stage::lookAtVertex(int vertex) {
    if (crowdCamera_ || vertex < 0 || static_cast<std::size_t>(vertex) >= positions().size()) {
        return;
    }
    mesh::Bounds near;
    const glm::vec3 p = sourcePosition(vertex);
    const glm::vec3 reach(0.18f * bounds_.diagonal());
    near.add(p - reach);
    near.add(p + reach);
    camera_.frame(near, aspect(), true);
    update();
}

glm::vec3 Stage::sourcePosition(int vertex) const {
    if (poseDirty_ && scoreIsDrawn()) {
        const double turn = session_.playhead().turn();
        return session_.performance()->trace(static_cast<std::size_t>(vertex), {&turn, 1}, {},
                                             session_.performance()->composition().position)[0];
    }
    return positions()[static_cast<std::size_t>(vertex)];
}

bool Stage::scoreIsDrawn() const {
    return scoresOnGpu_ && showsCode(session_.document()) && session_.performance() && renderer_.hasScore();
}

bool Stage::poseCanWait() const {
    return scoreIsDrawn() && !positions().empty() && session_.marks().empty() &&
           !lookOf(session_.document().view).needsPose;
}

void Stage::ensurePose() {
    if (poseDirty_ && session_.source()) {
        poseSource();
    }
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
    const Curtain curtain = benchOf(session_.document().view).curtain;
    const bool decoded = curtain == Curtain::decoded && !showsCode(session_.document()) && session_.bake() &&
                         renderer_.hasBake();
    const bool compared = (curtain == Curtain::compared && session_.compared()) || rehearsed();
    return ready_ && session_.source() && (decoded || compared) && !session_.transition().shown();
}

QPointF Stage::curtainHandle() const {
    return {session_.document().view.curtain * width(), height() - kHandleUp};
}

QImage Stage::picture() {
    finishing_ = true;
    return grab().toImage();
}

void Stage::paintEvent(QPaintEvent*) {
    if (!initialised_) {
        initialise();
    }
    if (composed_) {
        return; // which covers all
    }
    QPainter painter(this);
    if (!ready_ || !gl_.makeCurrent()) {
        painter.fillRect(rect(), theme().ground);
        paintMessage(painter, tr("The model can't be drawn here"), renderer_.problem());
        return;
    }
    drawModel(painter);
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

} // namespace ripple::app
