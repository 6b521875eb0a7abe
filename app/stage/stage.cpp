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

Look lookNamed(const std::string& name) {
    return name == "wire" ? Look::wire : name == "uv-grid" ? Look::uvGrid : name == "normals" ? Look::normals : Look::lit;
}

void chip(QPainter& painter, const QRectF& box, const QString& text, bool strong) {
    QColor ground = theme().deep;
    ground.setAlphaF(0.86f);
    painter.setPen(Qt::NoPen);
    painter.setBrush(ground);
    painter.drawRoundedRect(box, 5, 5);
    painter.setPen(strong ? theme().text : theme().quiet);
    painter.drawText(box, Qt::AlignCenter, text);
}

} // namespace

Stage::Stage(Session& session, QWidget* parent) : QOpenGLWidget(parent), session_(session) {
    QSurfaceFormat format;
    format.setVersion(3, 3);
    format.setProfile(QSurfaceFormat::CoreProfile);
    format.setDepthBufferSize(24);
    format.setSamples(4);
    setFormat(format);
    setObjectName("stage");
    setMouseTracking(true);
    setFocusPolicy(Qt::ClickFocus);
    setMinimumSize(320, 240);
    setAccessibleName(tr("The model"));
    connect(&session_, &Session::sourceLoaded, this, [this] {
        sourceDirty_ = bakeDirty_ = poseDirty_ = true;
        framed_ = false;
        update();
    });
    connect(&session_, &Session::bakeFinished, this, [this] {
        bakeDirty_ = poseDirty_ = true;
        update();
    });
    connect(&session_.playhead(), &Playhead::moved, this, [this] {
        poseDirty_ = true;
        update();
    });
    connect(&session_, &Session::documentChanged, this, [this](unsigned changes) {
        if (changes & kViewChange) {
            update();
        }
    });
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

void Stage::takeSource() {
    sourceDirty_ = false;
    const auto source = session_.source();
    bounds_ = {};
    if (!source) {
        renderer_.clearMesh();
        positions_.clear();
        normals_.clear();
        return;
    }
    renderer_.setMesh(source->mesh());
    positions_ = source->mesh().positions;
    normals_ = source->mesh().normals;
    bounds_.add(positions_);
}

void Stage::takeBake() {
    bakeDirty_ = false;
    const auto bake = session_.bake();
    const auto source = session_.source();
    if (!bake || !source) {
        renderer_.clearBake();
        return;
    }
    renderer_.setBake(bake->baked, source->mesh(), session_.document().assetName());
    bounds_ = bake->baked.bounds;
    if (!framed_) {
        frameModel(false);
        framed_ = true;
    }
}

void Stage::poseSource() {
    poseDirty_ = false;
    const auto source = session_.source();
    const auto bake = session_.bake();
    if (!source || positions_.empty()) {
        return;
    }
    const auto clip = static_cast<std::size_t>(session_.playhead().clipIndex());
    if (bake && clip < bake->plan.clips.size()) {
        const bake::ClipPlan& plan = bake->plan.clips[clip];
        const source::Clip& from = source->clips()[plan.clip];
        // Over the seam of a closed clip the source runs on to its end, which is its beginning.
        const double seconds = plan.seconds.front() + session_.playhead().frame() / plan.fps;
        source->sample(plan.clip, std::min(seconds, from.start + from.duration), positions_, normals_);
    }
    renderer_.setPose(positions_, normals_);
}

void Stage::frameModel(bool keepDirection) {
    // What the playing clip covers: another clip's long reach must not make this one small.
    mesh::Bounds seen = bounds_;
    const auto bake = session_.bake();
    const auto clip = static_cast<std::size_t>(session_.playhead().clipIndex());
    if (bake && clip < bake->clipBounds.size()) {
        seen = bake->clipBounds[clip];
    }
    camera_.frame(seen, aspect(), keepDirection);
    update();
}

void Stage::lookAtVertex(int vertex) {
    if (vertex < 0 || static_cast<std::size_t>(vertex) >= positions_.size()) {
        return;
    }
    mesh::Bounds near;
    const glm::vec3 p = positions_[static_cast<std::size_t>(vertex)];
    const glm::vec3 reach(0.18f * bounds_.diagonal());
    near.add(p - reach);
    near.add(p + reach);
    camera_.frame(near, aspect(), true);
    update();
}

glm::vec3 Stage::sourcePosition(int vertex) const {
    return positions_[static_cast<std::size_t>(vertex)];
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
    return ready_ && (bench == "bake" || bench == "ship") && session_.bake() && session_.source();
}

QPointF Stage::curtainHandle() const {
    return {session_.document().view.curtain * width(), height() - kHandleUp};
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
    if (poseDirty_) {
        poseSource();
    }
    SceneView view;
    const qreal ratio = devicePixelRatio();
    view.width = static_cast<int>(width() * ratio);
    view.height = static_cast<int>(height() * ratio);
    viewProjection_ = camera_.projection(aspect()) * camera_.view();
    view.viewProjection = viewProjection_;
    view.eye = camera_.eye();
    view.curtain = curtainShown() ? static_cast<int>(session_.document().view.curtain * view.width) : -1;
    view.look = lookNamed(session_.document().view.look);
    view.clip = session_.playhead().clipIndex();
    view.frame = static_cast<float>(session_.playhead().frame());
    view.gridCell = gridCell();
    view.groundY = groundY();
    view.bounds = bounds_;
    renderer_.draw(view);
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
    return {(clip.x / w * 0.5f + 0.5f) * static_cast<float>(width()), (0.5f - clip.y / w * 0.5f) * static_cast<float>(height())};
}

void Stage::paintOverlay(QPainter& painter) {
    painter.setFont(textFont(12));
    if (!session_.source()) {
        if (session_.sourceJob().running()) {
            paintMessage(painter, tr("Reading…"), QString::fromStdString(session_.document().source.path));
        } else if (session_.sourceProblem()) {
            paintMessage(painter, tr("This source can't be read"), QString::fromStdString(session_.sourceProblem()->line()));
        } else {
            paintMessage(painter, tr("Drop a deforming mesh here"),
                         tr("a .glb or .gltf with a skin or animation, or any frame of an .obj sequence;\nor open one with Project › Open source"));
        }
        return;
    }
    if (curtainShown()) {
        paintCurtain(painter);
    }
    paintPicked(painter);
    paintTripod(painter);
}

void Stage::paintCurtain(QPainter& painter) {
    const double x = session_.document().view.curtain * width();
    painter.setPen(QPen(theme().text, hoverCurtain_ || drag_ == Drag::curtain ? 2.5 : 1.6));
    painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    const QPointF handle = curtainHandle();
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().text);
    painter.drawEllipse(handle, 12, 12);
    painter.setPen(QPen(theme().deep, 1.8, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    for (const double way : {-1.0, 1.0}) {
        painter.drawLine(handle + QPointF(way * 1.5, 0), handle + QPointF(way * 6.5, 0));
        painter.drawPolyline(QPolygonF{handle + QPointF(way * 3.5, -3), handle + QPointF(way * 6.5, 0), handle + QPointF(way * 3.5, 3)});
    }
    painter.setFont(textFont(12));
    const QString left = tr("source");
    const QString right = tr("decoded from the textures");
    const QFontMetricsF metrics(painter.font());
    const double y = height() - 44.0;
    const double leftWidth = metrics.horizontalAdvance(left) + 20;
    const double rightWidth = metrics.horizontalAdvance(right) + 20;
    chip(painter, {x - 8 - leftWidth, y, leftWidth, 22}, left, true);
    chip(painter, {x + 8, y, rightWidth, 22}, right, true);
}

void Stage::paintTripod(QPainter& painter) {
    const QPointF origin(34, height() - 40);
    const glm::mat4 view = camera_.view();
    struct Axis {
        glm::vec3 way;
        QColor colour;
        const char* name;
        float depth;
    };
    std::array<Axis, 3> axes = {{{{1, 0, 0}, theme().coral, "X", 0.0f}, {{0, 1, 0}, theme().glass, "Y", 0.0f}, {{0, 0, 1}, theme().brass, "Z", 0.0f}}};
    for (Axis& axis : axes) {
        const glm::vec4 seen = view * glm::vec4(axis.way, 0.0f);
        axis.way = glm::vec3(seen);
        axis.depth = seen.z;
    }
    std::sort(axes.begin(), axes.end(), [](const Axis& a, const Axis& b) { return a.depth < b.depth; });
    painter.setFont(textFont(11, QFont::DemiBold));
    for (const Axis& axis : axes) {
        const QPointF end = origin + QPointF(axis.way.x, -axis.way.y) * 22.0;
        painter.setPen(QPen(axis.colour, 2));
        painter.drawLine(origin, end);
        const QPointF label = origin + QPointF(axis.way.x, -axis.way.y) * 30.0;
        painter.drawText(QRectF(label.x() - 8, label.y() - 8, 16, 16), Qt::AlignCenter, axis.name);
    }
    const glm::vec3 size = bounds_.size();
    const auto metres = [](float value) { return QString::fromStdString(base::lengthText(static_cast<double>(value))); };
    painter.setFont(textFont(11.5));
    painter.setPen(theme().quiet);
    painter.drawText(QRectF(16, 10, 420, 18), Qt::AlignLeft | Qt::AlignVCenter,
                     tr("%1 wide, %2 high, %3 deep in motion").arg(metres(size.x), metres(size.y), metres(size.z)));
    painter.drawText(QRectF(16, 28, 420, 18), Qt::AlignLeft | Qt::AlignVCenter, tr("grid %1").arg(metres(gridCell())));
}

void Stage::paintPicked(QPainter& painter) {
    const int vertex = session_.pickedVertex();
    if (vertex < 0 || static_cast<std::size_t>(vertex) >= positions_.size()) {
        return;
    }
    bool inFront = false;
    const QPointF at = project(positions_[static_cast<std::size_t>(vertex)], &inFront);
    if (!inFront) {
        return;
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme().deep, 4));
    painter.drawEllipse(at, 7, 7);
    painter.setPen(QPen(theme().coral, 2));
    painter.drawEllipse(at, 7, 7);
    painter.setFont(textFont(12));
    const QString text = tr("vertex %1").arg(QString::fromStdString(base::countText(static_cast<std::size_t>(vertex))));
    const double wide = QFontMetricsF(painter.font()).horizontalAdvance(text) + 16;
    chip(painter, {at.x() + 13, at.y() - 11, wide, 22}, text, true);
}

void Stage::paintMessage(QPainter& painter, const QString& title, const QString& words) {
    const QRectF box = QRectF(rect()).adjusted(40, 0, -40, 0);
    painter.setPen(theme().text);
    painter.setFont(textFont(19, QFont::DemiBold));
    painter.drawText(QRectF(box.left(), height() * 0.5 - 46, box.width(), 34), Qt::AlignCenter, title);
    painter.setPen(theme().quiet);
    painter.setFont(textFont(13));
    painter.drawText(QRectF(box.left(), height() * 0.5 - 6, box.width(), 90), Qt::AlignHCenter | Qt::AlignTop | Qt::TextWordWrap, words);
}

bool Stage::overCurtain(const QPointF& at) const {
    return curtainShown() && std::abs(at.x() - curtainHandle().x()) <= kGrip;
}

int Stage::vertexAt(const QPointF& at) const {
    constexpr double kReach = 14.0; // pixels
    int best = -1;
    double bestScore = std::numeric_limits<double>::max();
    for (std::size_t v = 0; v < positions_.size(); ++v) {
        const glm::vec4 clip = viewProjection_ * glm::vec4(positions_[v], 1.0f);
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
        camera_.orbit(static_cast<float>(way.x()) * 0.008f, static_cast<float>(way.y()) * 0.008f);
        break;
    case Drag::pan:
        camera_.pan({static_cast<float>(way.x()), static_cast<float>(way.y())}, static_cast<float>(height()));
        break;
    case Drag::curtain:
        session_.look([&](project::View& view) { view.curtain = std::clamp(at.x() / std::max(width(), 1), 0.0, 1.0); });
        break;
    }
    update();
}

void Stage::mouseReleaseEvent(QMouseEvent* event) {
    if (drag_ == Drag::orbit && !moved_ && event->button() == Qt::LeftButton) {
        session_.pickVertex(vertexAt(event->position()));
    }
    drag_ = Drag::none;
    update();
}

void Stage::mouseDoubleClickEvent(QMouseEvent*) {
    frameModel(true);
}

void Stage::wheelEvent(QWheelEvent* event) {
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
