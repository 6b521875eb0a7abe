// The real window under a virtual screen: how soon a choice is seen.
//
// Another store or content: 20 000 vertices × 120 frames on Bake; from the choice to the new numbers, and to
// the picture that shows the new bake (bound for both: 150 ms). "a dragged slider": 100 000 vertices on Move;
// from one step of a voice's field to the picture that shows it (bound: 33 ms). Beside both, as the baseline
// in the same run: a picture of the same model from a camera that turned, which nothing has to be computed
// for.

#include "app/window/main_window.h"
#include "app/window/pictures.h"
#include "app/session/score_edits.h"
#include "app/look/theme.h"
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

const bool kSmall = qEnvironmentVariableIsSet("RIPPLE_BENCH_SMALL"); // only shows that it runs through
const std::size_t kTimes = kSmall ? 1 : 12;
const int kSteps = kSmall ? 2 : 40;
const std::size_t kBakedCells = kSmall ? 20 : 141; // (141 + 1)² vertices
const std::size_t kDenseCells = kSmall ? 20 : 316; // (316 + 1)² vertices

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

void print(const QString& what, Took& took, double bound, Took& baseline) {
    std::printf("%-46s %6.1f ms (bound %.0f; most %.1f), %.1f × a turned camera (%.1f ms)\n",
                qPrintable(what), took.median(), bound, took.milliseconds.back(),
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
    struct Choice {
        const char* what;
        std::vector<std::function<void(bake::Recipe&)>> turns; ///< one after the other
    };
    const auto position = [](const char* store) {
        return [store](bake::Recipe& r) { r.positionStore = store; };
    };
    const auto normal = [](const char* store) { return [store](bake::Recipe& r) { r.normalStore = store; }; };
    const auto content = [](bake::Content to) { return [to](bake::Recipe& r) { r.content = to; }; };
    const std::vector<Choice> choices = {
        {"another position store", {position("half"), position("unorm16"), position("float32")}},
        {"to two 8-bit textures, and back", {position("unorm8x2"), position("unorm16")}},
        {"another content", {content(bake::Content::absolute), content(bake::Content::offset)}},
        {"another normal store", {normal("oct16"), normal("unorm8"), normal("oct32"), normal("unorm8")}},
    };
    for (const Choice& choice : choices) {
        Watch watch(window);
        Took camera;
        Took numbers;
        Took picture;
        for (std::size_t i = 0; i < kTimes; ++i) {
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
                    session.edit(choice.what, [&](project::Document& d) {
                        choice.turns[i % choice.turns.size()](d.recipe);
                    });
                },
                [&] { return session.encoded().get() != &before->baked; }));
            waitUntilIdle(window);
            numbers.milliseconds.push_back(measured);
            QObject::disconnect(connection);
        }
        print(QString("%1: the picture").arg(choice.what), picture, 150.0, camera);
        print(QString("%1: the numbers").arg(choice.what), numbers, 150.0, camera);
    }
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
