// The real window under a virtual screen: how soon a choice is seen.
//
// "another store": 20 000 vertices × 120 frames on Bake; from the choice to the new numbers, and to the
// picture that shows the new bake (bound for both: 150 ms). "a dragged slider": 100 000 vertices on Move;
// from one step of a voice's field to the picture that shows it (bound: 33 ms). Beside both, as the baseline
// in the same run: a picture of the same model from a camera that turned, which nothing has to be computed
// for.

#include "app/shell/main_window.h"
#include "app/shell/pictures.h"
#include "app/shell/score_edits.h"
#include "app/shell/theme.h"
#include "app/stage/stage.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QSettings>
#include <QTimer>
#include <QWheelEvent>

#include <algorithm>
#include <array>
#include <cstdio>
#include <functional>
#include <vector>

using namespace ripple;
using namespace ripple::app;

namespace {

constexpr int kTimes = 11;
constexpr int kSteps = 40;
constexpr std::size_t kBakedCells = 141; // (141 + 1)² vertices
constexpr std::size_t kDenseCells = 316; // (316 + 1)² vertices

struct Took {
    std::vector<double> milliseconds;
    double median() {
        std::ranges::sort(milliseconds);
        return milliseconds[milliseconds.size() / 2];
    }
};

class Watch {
public:
    explicit Watch(MainWindow& window) : window_(window) {}

    /// Milliseconds from `act` to the first picture for which `done` holds.
    double untilDrawn(const std::function<void()>& act, const std::function<bool()>& done) {
        QEventLoop loop;
        const auto connection = QObject::connect(window_.stage(), &Stage::drawn, &loop, [&] {
            if (done()) {
                // From the event loop: when the window has been flushed to the screen.
                QTimer::singleShot(0, &loop, &QEventLoop::quit);
            }
        });
        QElapsedTimer clock;
        clock.start();
        act();
        loop.exec();
        QObject::disconnect(connection);
        return static_cast<double>(clock.nsecsElapsed()) * 1e-6;
    }

    double turnedCamera() {
        return untilDrawn(
            [&] {
                Stage& stage = *window_.stage();
                const QPointF at(stage.width() / 2, stage.height() / 2);
                QWheelEvent wheel(at, stage.mapToGlobal(at), {}, {0, up_ ? 12 : -12}, Qt::NoButton,
                                  Qt::NoModifier, Qt::NoScrollPhase, false);
                up_ = !up_;
                QApplication::sendEvent(&stage, &wheel);
            },
            [] { return true; });
    }

private:
    MainWindow& window_;
    bool up_ = false;
};

void print(const char* what, Took& took, double bound, Took& baseline) {
    std::printf("%-44s %6.1f ms (bound %.0f), %.1f × a turned camera (%.1f ms)\n", what, took.median(), bound,
                took.median() / baseline.median(), baseline.median());
}

void anotherStore(MainWindow& window, const QString& demo) {
    Session& session = window.session();
    window.openPath(demo + "/skate.curly");
    waitUntilIdle(window);
    session.edit("A sheet", [](project::Document& d) {
        d.source.shape = mesh::TestShape{"sheet", 1.0, kBakedCells, kBakedCells};
        d.score.loopSeconds = 4.0; // 120 frames
    });
    waitUntilIdle(window);
    window.showBench(1);
    waitUntilIdle(window);
    std::printf("%zu vertices × %zu frames\n", session.source()->mesh().vertexCount(),
                session.bake()->plan.frameCount());
    Watch watch(window);
    Took camera;
    Took numbers;
    Took picture;
    const std::array<const char*, 3> stores{"half", "unorm16", "float32"};
    for (int i = 0; i < kTimes; ++i) {
        camera.milliseconds.push_back(watch.turnedCamera());
        waitUntilIdle(window);
        const auto before = session.bake();
        QElapsedTimer clock;
        double measured = 0.0;
        const auto connection = QObject::connect(&session, &Session::bakeFinished, [&] {
            measured = static_cast<double>(clock.nsecsElapsed()) * 1e-6;
        });
        picture.milliseconds.push_back(watch.untilDrawn(
            [&] {
                clock.start();
                session.edit("Another store", [&](project::Document& d) {
                    d.recipe.positionStore = stores[static_cast<std::size_t>(i) % stores.size()];
                });
            },
            [&] { return session.encoded().get() != &before->baked; }));
        waitUntilIdle(window);
        numbers.milliseconds.push_back(measured);
        QObject::disconnect(connection);
    }
    print("another store: the picture", picture, 150.0, camera);
    print("another store: the numbers", numbers, 150.0, camera);
}

void draggedSlider(MainWindow& window, const QString& demo) {
    Session& session = window.session();
    window.openPath(demo + "/skate.curly");
    waitUntilIdle(window);
    session.edit("A dense sheet", [](project::Document& d) {
        d.source.shape = mesh::TestShape{"sheet", 1.0, kDenseCells, kDenseCells};
    });
    window.showBench(2);
    waitUntilIdle(window);
    std::printf("%zu vertices, %zu voices\n", session.source()->mesh().vertexCount(),
                session.document().score.voices.size());
    Watch watch(window);
    Took camera;
    Took slider;
    const int gesture = session.newGesture();
    for (int i = 0; i < kSteps; ++i) {
        camera.milliseconds.push_back(watch.turnedCamera());
    }
    for (int i = 0; i < kSteps; ++i) {
        const auto before = session.performance();
        slider.milliseconds.push_back(watch.untilDrawn(
            [&] {
                editVoice(
                    session, chosenVoice(session)->id, "Amplitude",
                    [](motion::Voice& v) { v.amplitude.value *= 1.01; }, gesture);
            },
            [&] { return session.performance() != before; }));
    }
    print("a dragged slider: each picture", slider, 33.0, camera);
    waitUntilIdle(window);
}

} // namespace

int main(int argc, char** argv) {
    QApplication::setAttribute(Qt::AA_UseDesktopOpenGL);
    QApplication application(argc, argv);
    QApplication::setOrganizationName("curly-ripple");
    QApplication::setApplicationName("curly-ripple-bench");
    QSettings().clear();
    QCommandLineParser parser;
    const QCommandLineOption demo("demo", "Where the demo's sources are.", "FOLDER");
    parser.addOption(demo);
    parser.process(application);
    applyTheme(application, ThemeKind::dusk);
    MainWindow window;
    window.resize(1280, 800);
    window.show();
    anotherStore(window, parser.value(demo));
    draggedSlider(window, parser.value(demo));
    window.session().undoStack().setClean();
    window.autosave().drop();
    return 0;
}
