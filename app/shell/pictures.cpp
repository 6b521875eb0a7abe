#include "app/shell/pictures.h"

#include "app/shell/main_window.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QScreen>
#include <QTemporaryDir>
#include <QThread>

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
        return session.sourceJob().running() || session.bakeJob().running() || session.shipJob().running() ||
               session.sizing();
    };
    do {
        settle(30);
        if (static_cast<double>(clock.elapsed()) > seconds * 1000.0) {
            return false;
        }
    } while (busy());
    return true;
}

bool takePicture(MainWindow& window, const QString& file) {
    waitUntilIdle(window);
    settle(150);
    // From the screen, as a person sees it: a window's own grab leaves out what is painted over the 3D view.
    return window.screen()->grabWindow(window.winId()).save(file);
}

int takeAllPictures(MainWindow& window, const QString& folder, const QString& demo) {
    struct Shot {
        const char* file;
        const char* project;
        int bench;
        const char* look;
        int clip;
        double frame;
        bool day;
        bool write;
    };
    const Shot shots[] = {
        {"gather-heron.png", "heron.curly", 0, "lit", 0, 12.0, false, false},
        {"gather-awning-uv.png", "awning.curly", 0, "uv-grid", 0, 20.0, false, false},
        {"bake-awning.png", "awning.curly", 1, "lit", 0, 34.0, false, false},
        {"bake-awning-wire.png", "awning.curly", 1, "wire", 0, 70.0, false, false},
        {"ship-code.png", "heron.curly", 4, "lit", 1, 36.0, false, false},
        {"bake-heron-day.png", "heron.curly", 1, "normals", 2, 36.0, true, false},
        {"ship-heron.png", "heron.curly", 4, "lit", 0, 29.0, false, true},
    };
    QDir().mkpath(folder);
    QTemporaryDir out;
    int failed = 0;
    window.showBench(0);
    failed += !takePicture(window, QDir(folder).filePath("empty.png"));
    for (const Shot& shot : shots) {
        window.setDayTheme(shot.day);
        window.openPath(QDir(demo).filePath(shot.project));
        waitUntilIdle(window);
        window.showBench(shot.bench);
        Session& session = window.session();
        session.look([&](project::View& view) {
            view.look = shot.look;
            view.curtain = 0.52;
        });
        session.playhead().setClipIndex(shot.clip);
        session.playhead().setFrame(shot.frame);
        if (shot.write) {
            session.edit("folder", [&](project::Document& d) {
                d.ship.folder = QDir(out.path()).filePath("bundles").toStdString();
            });
            session.writeBundle();
            waitUntilIdle(window);
        }
        window.stage()->frameModel(false);
        failed += !takePicture(window, QDir(folder).filePath(shot.file));
        session.undoStack().setClean();
    }
    return failed;
}

} // namespace ripple::app
