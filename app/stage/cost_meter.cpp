#include "app/stage/cost_meter.h"

#include "app/stage/camera.h"
#include "app/stage/scene_renderer.h"
#include "bake/bake.h"
#include "bake/kind.h"

#include <QElapsedTimer>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLFunctions>

#include <algorithm>
#include <array>
#include <cmath>

namespace ripple::app {

namespace {

constexpr std::array<std::size_t, 6> kCounts = {1, 10, 100, 1000, 5000, 20000};
constexpr QSize kPictureSize(960, 540);

QSurfaceFormat format() {
    QSurfaceFormat made;
    made.setVersion(3, 3);
    made.setProfile(QSurfaceFormat::CoreProfile);
    return made;
}

/// A crowd of so many copies, evenly over ground that grows with it, in the middle of what it plays.
std::vector<DrawnCopy> crowdOf(const ScatterState& state, std::size_t count, double seconds) {
    scatter::Choices choices = state.choices;
    choices.placement.count = count;
    choices.placement.pattern = "grid";
    choices.ground = "flat";
    const float side = 1.2f * state.measured.bounds.diagonal() * std::sqrt(static_cast<float>(count));
    choices.placement.size = {side, choices.placement.size.y, side};
    const scatter::Placed placed = scatter::place(choices);
    scatter::CrowdChoices crowd = scatter::crowdOf(choices, state.asset, state.measured);
    crowd.travel = scatter::Travel::still;
    crowd.area = choices.placement.size;
    scatter::Crowd all(crowd, placed.copies, placed.ground);
    all.goTo(seconds);
    return {all.states().begin(), all.states().end()};
}

class Meter {
public:
    Meter(const ScatterState& state, QOffscreenSurface& surface) : state_(state) {
        context_.setFormat(format());
        ok_ = context_.create() && context_.makeCurrent(&surface) && renderer_.initialise();
        if (!ok_) {
            return;
        }
        renderer_.setSamples(0);
        const mesh::Mesh& mesh = state.asset.source->mesh();
        prepared_ = prepareMesh(mesh, false);
        renderer_.beginMesh(mesh, *prepared_);
        renderer_.meshPieces().workAll();
    }
    ~Meter() {
        if (ok_) {
            renderer_.release();
        }
        context_.doneCurrent();
    }
    bool works() const { return ok_; }
    SceneRenderer& renderer() { return renderer_; }
    QString machine() {
        return QString::fromLatin1(
            reinterpret_cast<const char*>(context_.functions()->glGetString(GL_RENDERER)));
    }

    /// Milliseconds of the better of two pictures.
    double picture(std::size_t count, bool scored, const base::Progress& progress) {
        double best = 1e12;
        for (int i = 0; i < 3; ++i) { // the first one compiles
            progress.checkpoint();
            const auto copies = crowdOf(state_, count, 0.4 * i);
            const SceneView view = viewOf(copies, scored);
            QElapsedTimer clock;
            clock.start();
            renderer_.setCopies(copies, {state_.measured.bounds});
            renderer_.draw(view);
            context_.functions()->glFinish();
            const double taken = static_cast<double>(clock.nsecsElapsed()) * 1e-6;
            best = i == 0 ? best : std::min(best, taken);
            if (taken > 3.0 * CostMeter::kPatience) {
                return std::min(best, taken);
            }
        }
        return best;
    }

    /// The same of copies that the processor poses, each with a draw of its own.
    double posed(std::size_t count, const base::Progress& progress) {
        const source::FrameSource& source = *state_.asset.source;
        const std::size_t vertices = source.mesh().vertexCount();
        std::vector<glm::vec3> positions(vertices);
        std::vector<glm::vec3> normals(vertices);
        const source::Clip& clip = source.clips()[0];
        double best = 1e12;
        for (int i = 0; i < 2; ++i) {
            const auto copies = crowdOf(state_, count, 0.4 * i);
            const SceneView view = viewOf(copies, false);
            QElapsedTimer clock;
            clock.start();
            renderer_.drawOneByOne(view, copies, [&](std::size_t c) {
                progress.checkpoint();
                const double part = static_cast<double>(copies[c].id);
                bake::samplePose(source, {0, {}, {}}, clip.start + part * clip.duration, positions, normals);
                renderer_.setPose(positions, normals);
            });
            context_.functions()->glFinish();
            const double taken = static_cast<double>(clock.nsecsElapsed()) * 1e-6;
            best = std::min(best, taken);
            if (taken > CostMeter::kPatience) {
                break;
            }
        }
        return best;
    }

private:
    SceneView viewOf(const std::vector<DrawnCopy>& copies, bool scored) const {
        mesh::Bounds field;
        for (const DrawnCopy& copy : copies) {
            field.add({&copy.origin, 1});
        }
        const glm::vec3 half(0.5f * state_.measured.bounds.diagonal());
        const glm::vec3 low = field.min - half;
        const glm::vec3 high = field.max + half;
        field.add({&low, 1});
        field.add({&high, 1});
        Camera camera;
        camera.lookAcross(field);
        SceneView view;
        view.width = kPictureSize.width();
        view.height = kPictureSize.height();
        view.viewProjection =
            camera.projection(static_cast<float>(kPictureSize.width()) / static_cast<float>(kPictureSize.height())) *
            camera.view();
        view.eye = camera.eye();
        view.bounds = field;
        view.curtain = scored ? -1 : 0;
        view.scored = scored;
        view.shadows = false;
        view.ground = false; // what is measured is the copies
        return view;
    }

    const ScatterState& state_;
    QOpenGLContext context_;
    SceneRenderer renderer_;
    std::shared_ptr<const PreparedMesh> prepared_;
    bool ok_ = false;
};

std::size_t meshBytes(const mesh::Mesh& mesh) {
    return mesh.vertexCount() * (2 * sizeof(glm::vec3) + 2 * sizeof(glm::vec2)) + mesh.indices.size() * 4;
}

} // namespace

double CostLine::copiesAt(double milliseconds) const {
    for (std::size_t i = 0; i + 1 < points.size(); ++i) {
        const Point& a = points[i];
        const Point& b = points[i + 1];
        if (a.milliseconds <= milliseconds && b.milliseconds > milliseconds) {
            const double part =
                std::log(milliseconds / a.milliseconds) / std::log(b.milliseconds / a.milliseconds);
            return static_cast<double>(a.copies) *
                   std::pow(static_cast<double>(b.copies) / static_cast<double>(a.copies), part);
        }
    }
    return 0.0;
}

CostMeter::CostMeter(std::shared_ptr<const ScatterState> state, bake::Recipe recipe, std::string name,
                     std::shared_ptr<QOffscreenSurface> surface)
    : state_(std::move(state)),
      recipe_(std::move(recipe)),
      name_(std::move(name)),
      surface_(std::move(surface)) {}

std::shared_ptr<QOffscreenSurface> CostMeter::makeSurface() {
    auto surface = std::make_shared<QOffscreenSurface>();
    surface->setFormat(format());
    surface->create();
    return surface;
}

CostReport CostMeter::measure(base::Progress& progress, const Tell& tell) const {
    CostReport report;
    report.size = kPictureSize;
    const source::FrameSource& source = *state_->asset.source;
    const mesh::Mesh& mesh = source.mesh();
    report.triangles = mesh.triangleCount();
    Meter meter(*state_, *surface_);
    if (!meter.works()) {
        report.problems << QObject::tr("This display offers no OpenGL 3.3, so nothing can be measured.");
        report.complete = true;
        return report;
    }
    report.machine = meter.machine();
    const auto climb = [&](CostLine::Way way, std::size_t bytes, std::size_t each,
                           const std::function<double(std::size_t)>& picture) {
        report.lines.push_back({way, {}});
        for (const std::size_t count : kCounts) {
            progress.checkpoint();
            const double taken = picture(count);
            report.lines.back().points.push_back({count, taken, bytes + count * each});
            tell(report);
            if (taken > kPatience) {
                break;
            }
        }
    };
    constexpr std::size_t kCopyBytes = 6 * sizeof(glm::vec4);
    const auto baked = [&](CostLine::Way way, const bake::Kind& kind) {
        try {
            const bake::Recipe recipe = bake::withKind(recipe_, kind);
            const auto made = std::make_shared<const bake::Baked>(bake::bake(source, recipe, progress));
            if (!meter.renderer().setBake(made, mesh, name_)) {
                report.problems << meter.renderer().bakeProblem();
                return;
            }
            // The clips of this very bake: a crowd asks for their frames.
            climb(way, meshBytes(mesh) + made->textures.textureMemory(), kCopyBytes,
                  [&](std::size_t count) { return meter.picture(count, false, progress); });
        } catch (const base::Failure& failure) {
            report.problems << QString::fromStdString(failure.problem().line());
        }
    };
    const bool moves = !state_->asset.clips.empty();
    if (moves) {
        baked(CostLine::Way::vertices, bake::kVertices);
    }
    if (moves && source.rig()) {
        baked(CostLine::Way::joints, bake::kJoints);
    }
    if (state_->asset.performance) {
        const auto& performance = *state_->asset.performance;
        meter.renderer().clearBake();
        if (meter.renderer().setScore(emit::scoreCode(emit::glsl(), name_, performance.composition(),
                                                      {.numbers = emit::Numbers::loose}),
                                      name_, performance.fields())) {
            climb(CostLine::Way::score, meshBytes(mesh), kCopyBytes,
                  [&](std::size_t count) { return meter.picture(count, true, progress); });
        }
        meter.renderer().clearScore();
    }
    meter.renderer().clearBake();
    climb(CostLine::Way::processor, meshBytes(mesh), mesh.vertexCount() * 2 * sizeof(glm::vec3),
          [&](std::size_t count) { return meter.posed(count, progress); });
    report.complete = true;
    tell(report);
    return report;
}

} // namespace ripple::app
