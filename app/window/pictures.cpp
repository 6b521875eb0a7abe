#include "app/window/pictures.h"

#include "app/benches/scatter/crowd_cost_page.h"
#include "app/benches/ship/returned_page.h"
#include "app/session/score_edits.h"
#include "app/window/main_window.h"
#include "app/session/words.h"
#include "bake/kind.h"
#include "bundle/rehearsal.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QScreen>
#include <QScrollArea>
#include <QScrollBar>
#include <QTemporaryDir>
#include <QThread>

#include <functional>
#include <vector>

namespace ripple::app {

namespace {

void settle(int milliseconds) {
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < milliseconds) {
        QApplication::processEvents(QEventLoop::AllEvents, 20);
        QThread::msleep(5);
    }
}

} // namespace

bool waitUntilIdle(MainWindow& window, double seconds) {
    QElapsedTimer clock;
    clock.start();
    Session& session = window.session();
    const auto busy = [&] {
        return session.sourceJob().running() || session.surveyJob().running() ||
               session.bakeJob().running() || session.shipJob().running() || session.sizing() ||
               session.scatterJob().running() || session.rehearsal().aloneJob().running() ||
               (window.stage() && (window.stage()->poser().busy() || window.stage()->settling()));
    };
    // Twice: what the last job's end has changed is laid out only after it.
    for (int idle = 0; idle < 2; idle = busy() ? 0 : idle + 1) {
        settle(12);
        if (static_cast<double>(clock.elapsed()) > seconds * 1000.0) {
            return false;
        }
    }
    return true;
}

bool waitForLadder(MainWindow& window, double seconds) {
    QElapsedTimer clock;
    clock.start();
    while (window.session().ladderJob().running()) {
        settle(12);
        if (static_cast<double>(clock.elapsed()) > seconds * 1000.0) {
            return false;
        }
    }
    return waitUntilIdle(window, seconds);
}

bool takePicture(MainWindow& window, const QString& file) {
    waitUntilIdle(window);
    waitForLadder(window);
    settle(150);
    // From the screen, as a person sees it: a window's own grab leaves out what is painted over the 3D view.
    return window.screen()->grabWindow(window.winId()).save(file);
}

namespace {

struct Shot {
    const char* file;
    const char* project;
    int bench;
    const char* look;
    int clip;
    double frame;
    bool day = false;
    std::function<void(MainWindow&)> prepare = {};
};

void writeBundle(MainWindow& window, const QString& folder) {
    window.session().edit("folder", [&](project::Document& d) { d.ship.folder = folder.toStdString(); });
    window.session().writeBundle();
    waitUntilIdle(window);
}

/// A bundle that was written, and what an importer made of its textures.
void showReturned(MainWindow& window, const QString& folder) {
    writeBundle(window, folder);
    const std::filesystem::path own = pathBytes(window.session().bundleFolder());
    const QString returned = QFileInfo(folder).path() + "/from-the-engine";
    const std::vector<const bundle::Fault*> done = {&bundle::faultNamed("rows-flipped"),
                                                    &bundle::faultNamed("half-size")};
    bundle::writeSpoilt(bundle::readBundle(own), own, done, pathBytes(returned));
    window.bench(4).showStrip(4);
    auto* page = window.bench(4).strip()->findChild<ReturnedPage*>();
    page->check(returned);
    while (page->checking()) {
        settle(50);
    }
}

/// The likeness tab with the best window taken.
void showLikeness(MainWindow& window) {
    window.bench(0).showStrip(1);
    const auto survey = window.session().survey();
    if (survey && !survey->clips[0].windows.empty()) {
        const inspect::LoopWindow best = survey->clips[0].windows[0].window;
        window.session().edit("window", [&](project::Document& d) {
            d.recipe.clips = bake::withLoop(*window.session().source(), d.recipe, 0, {best.first, best.last});
        });
        waitUntilIdle(window);
    }
}

/// The vertices that a finding names, marked.
void showFinding(MainWindow& window, const std::string& id) {
    for (const inspect::Observation& one : window.session().observations()) {
        if (one.finding.id == id) {
            window.session().showObservation(one);
            return;
        }
    }
}

/// A voice of the score and a part of its numbers, scrolled to.
void showVoice(MainWindow& window, unsigned voice, const char* part) {
    window.session().look([voice](project::View& v) { v.voice = voice; });
    QWidget* panel = window.bench(2).panel();
    panel->findChild<QAbstractButton*>(part)->click();
    settle(60);
    QScrollBar* bar = panel->findChild<QScrollArea*>()->verticalScrollBar();
    bar->setValue(bar->maximum());
}

/// Numbers of a score as parameters, with their sliders.
void showParameters(MainWindow& window) {
    const auto make = [&](unsigned voice, const char* field, const char* help) {
        setParameters(window.session(), voice, {field}, true, {});
        const std::string name = motion::parameterAt(window.session().document().score, voice, field)->name;
        editParameter(window.session(), name, {}, [&](motion::Parameter& each) { each.help = help; });
    };
    make(0, "strength", "How hard it blows");
    make(0, "heading", "Where it blows to");
    make(1, "angle", "How far a stem leans");
    make(2, "turns", "How often it sways in a loop");
    make(3, "amplitude", "How much tips tremble");
    showVoice(window, 1, "Swing");
    window.bench(2).showStrip(1);
    waitUntilIdle(window);
}

void shipAsCode(MainWindow& window) {
    window.session().edit("code", [](project::Document& d) { d.ship.asCode = true; });
    waitUntilIdle(window);
}

void shipAbroad(MainWindow& window) {
    window.session().edit("target",
                          [](project::Document& d) { d.ship.target = bundle::readyTargets().back(); });
    waitUntilIdle(window);
}

void bakeJoints(MainWindow& window) {
    window.session().edit("joints",
                          [](project::Document& d) { d.recipe = bake::withKind(d.recipe, bake::kJoints); });
    waitUntilIdle(window);
}

/// In the middle of a cross-fade from walking to pecking.
void showFade(MainWindow& window) {
    bakeJoints(window);
    const auto source = window.session().source();
    window.session().edit("speed", [&](project::Document& d) {
        d.recipe.clips = bake::writtenOut(*source, d.recipe);
        d.recipe.clips.front().speed = bake::SpeedRange{0.2, 0.5};
        d.recipe.transitions = {{"stroll", "peck", 0.4}};
    });
    window.bench(1).showStrip(3);
    waitUntilIdle(window);
    window.session().transition().setSeconds(0.78);
}

/// The crowd some seconds on, as if it had been played.
void playCrowd(MainWindow& window, double seconds) {
    constexpr double kStep = 0.05;
    for (double at = 0.0; at < seconds; at += kStep) {
        window.session().crowd().setSeconds(at);
    }
}

void keepOfMerged(MainWindow& window, scatter::Keeps keeps) {
    window.session().edit("keeps", [keeps](project::Document& d) { d.scatter.keeps = keeps; });
    waitUntilIdle(window);
    playCrowd(window, 1.3);
    QScrollBar* bar = window.bench(3).panel()->findChild<QScrollArea*>()->verticalScrollBar();
    bar->setValue(bar->maximum());
}

/// What crowds of crabs cost, measured.
void measureCost(MainWindow& window) {
    playCrowd(window, 1.0);
    window.bench(3).showStrip(1);
    auto* page = window.bench(3).strip()->findChild<CrowdCostPage*>();
    page->measure();
    QElapsedTimer clock;
    clock.start();
    constexpr qint64 kLongest = 300000; // milliseconds
    while (page->measuring() && clock.elapsed() < kLongest) {
        settle(50);
    }
}

} // namespace

int takeAllPictures(MainWindow& window, const QString& folder, const QString& demo) {
    QTemporaryDir out;
    const std::vector<Shot> shots = {
        {"gather-likeness.png", "awning.curly", 0, "speed", 0, 20.0, false, &showLikeness},
        {"gather-finding.png", "awning.curly", 0, "lit", 0, 40.0, true,
         [](MainWindow& w) { showFinding(w, "still"); }},
        {"bake-ladder.png", "awning.curly", 1, "lit", 0, 34.0, false,
         [](MainWindow& w) {
             w.session().edit("tolerance", [](project::Document& d) { d.tolerance.length = 0.02; });
         }},
        {"bake-sheet.png", "awning.curly", 1, "wire", 0, 70.0, false,
         [](MainWindow& w) {
             w.bench(1).showStrip(1);
             w.session().pickVertex(2650);
         }},
        {"bake-joints.png", "heron.curly", 1, "lit", 1, 133.5, false, &bakeJoints},
        {"bake-states.png", "heron.curly", 1, "lit", 0, 0.0, false, &showFade},
        {"move-skate.png", "skate.curly", 2, "lit", 0, 22.0, false,
         [](MainWindow& w) { w.session().pickVertex(820); }},
        {"move-bulrush.png", "bulrush.curly", 2, "mask", 0, 60.0, false,
         [](MainWindow& w) { showVoice(w, 3, "Masks"); }},
        {"move-parameters.png", "bulrush.curly", 2, "lit", 0, 34.0, false, &showParameters},
        {"scatter-herons.png", "herons.curly", 3, "lit", 0, 0.0, false,
         [](MainWindow& w) { playCrowd(w, 9.0); }},
        {"scatter-bulrushes.png", "bulrushes.curly", 3, "lit", 0, 0.0, false,
         [](MainWindow& w) {
             w.session().crowd().setBall({2.2f, 2.6f});
             playCrowd(w, 4.4);
         }},
        {"scatter-merged-lost.png", "bunting.curly", 3, "lit", 0, 0.0, false,
         [](MainWindow& w) { keepOfMerged(w, scatter::Keeps::nothing); }},
        {"scatter-merged-kept.png", "bunting.curly", 3, "lit", 0, 0.0, false,
         [](MainWindow& w) { keepOfMerged(w, scatter::Keeps::uvs); }},
        {"scatter-cost.png", "crabs.curly", 3, "lit", 0, 0.0, false, &measureCost},
        {"ship-target.png", "heron.curly", 4, "lit", 0, 29.0, false,
         [&out](MainWindow& w) {
             shipAbroad(w);
             writeBundle(w, QDir(out.path()).filePath("abroad"));
             w.bench(4).showStrip(0);
         }},
        {"ship-code.png", "bulrush.curly", 4, "lit", 0, 30.0, false,
         [](MainWindow& w) {
             showParameters(w);
             w.showBench(4);
             shipAsCode(w);
             w.session().look([](project::View& v) { v.language = "hlsl"; });
         }},
        {"ship-rehearsal.png", "heron.curly", 4, "lit", 0, 29.0, false,
         [](MainWindow& w) {
             w.bench(4).showStrip(3);
             w.bench(4).strip()->findChild<QAbstractButton*>("fault-half-size")->click();
             while (w.session().rehearsal().alone().size() < bundle::faults().size()) {
                 settle(50);
             }
             waitUntilIdle(w);
         }},
        {"ship-returned.png", "heron.curly", 4, "lit", 0, 29.0, false,
         [&out](MainWindow& w) { showReturned(w, QDir(out.path()).filePath("bundles")); }},
    };
    QDir().mkpath(folder);
    int failed = 0;
    for (const Shot& shot : shots) {
        window.setDayTheme(shot.day);
        window.openPath(QDir(demo).filePath(shot.project));
        waitUntilIdle(window);
        window.bench(0).showStrip(0);
        window.bench(1).showStrip(0);
        window.bench(2).showStrip(0);
        window.bench(3).showStrip(0);
        window.bench(4).showStrip(0);
        window.showBench(shot.bench);
        Session& session = window.session();
        session.look([&](project::View& view) {
            view.look = shot.look;
            view.curtain = 0.52;
        });
        session.playhead().setClipIndex(shot.clip);
        session.playhead().setFrame(shot.frame);
        if (shot.prepare) {
            shot.prepare(window);
            session.look([&](project::View& view) { view.look = shot.look; });
        }
        window.stage()->frameModel(false);
        failed += !takePicture(window, QDir(folder).filePath(shot.file));
        session.undoStack().setClean();
    }
    return failed;
}

} // namespace ripple::app
