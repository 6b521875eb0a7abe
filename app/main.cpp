#include "app/window/main_window.h"
#include "app/window/pictures.h"
#include "app/jobs/latest_job.h"
#include "app/look/theme.h"
#include "app/session/words.h"
#include "base/interruption.h"
#include "base/version.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QElapsedTimer>
#include <QTimer>

#include <algorithm>
#include <cstdio>
#include <memory>

#include <unistd.h>

int main(int argc, char** argv) {
    ripple::base::tidyUpOnSignals();
    QElapsedTimer sinceStart;
    sinceStart.start();
    QApplication::setAttribute(Qt::AA_UseDesktopOpenGL);
    QApplication::setAttribute(Qt::AA_ShareOpenGLContexts); // for presentationFor()
    QApplication application(argc, argv);
    QApplication::setOrganizationName("curly-ripple");
    QApplication::setApplicationName("curly-ripple");
    QApplication::setApplicationDisplayName("Curly Ripple");
    QApplication::setApplicationVersion(ripple::base::generatorName());

    QCommandLineParser parser;
    parser.setApplicationDescription(
        "Bakes mesh deformation into vertex animation textures, and writes motion that loops.");
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument(
        "FILE",
        "A project (.curly), or a source: a scene (.glb, .gltf, .fbx, .dae and others), a sequence of "
        "numbered .obj or .ply files, or a point cache (.pc2, .mdd).",
        "[FILE]");
    const QCommandLineOption picture("picture", "Write a picture of the window and quit.", "PNG");
    const QCommandLineOption shots("shots", "Write all pictures of the documentation and quit.", "FOLDER");
    const QCommandLineOption demo("demo", "Where the demo's sources are, for --shots.", "FOLDER");
    const QCommandLineOption start("measure-start",
                                   "Print how long the first picture of FILE took, in seconds, and quit.");
    const QCommandLineOption outside("follow-outside",
                                     "Also read files that a source names outside its own folder.");
    const QCommandLineOption memory("import-memory", "Memory for importing a scene file, in GiB.", "GIB",
                                    "2");
    const QCommandLineOption seconds("import-seconds", "Computing time for importing a scene file.", "S",
                                     "60");
    parser.addOptions({picture, shots, demo, start, outside, memory, seconds});
    parser.process(application);

    const bool forPictures = parser.isSet(picture) || parser.isSet(shots);
    if (forPictures) {
        // Pictures must not depend on, or change, how the person last left the window.
        QApplication::setApplicationName("curly-ripple-pictures");
    }
    ripple::app::applyTheme(application, ripple::app::ThemeKind::dusk);
    const ripple::source::ImportLimits limits{parser.value(memory).toDouble(),
                                              parser.value(seconds).toDouble()};
    if (!(limits.gigabytes >= 0.1 && limits.gigabytes <= 1024.0) ||
        !(limits.seconds >= 1.0 && limits.seconds <= 1e6)) {
        std::fprintf(stderr,
                     "curly-ripple: --import-memory takes 0.1 to 1024, --import-seconds 1 to 1000000\n");
        return 2;
    }
    auto mainWindow = std::make_unique<ripple::app::MainWindow>();
    ripple::app::MainWindow& window = *mainWindow;
    window.session().setTrust({parser.isSet(outside), limits});
    if (forPictures) {
        window.resize(1280, 800);
    }
    window.show();
    if (parser.isSet(start) && window.stage()) {
        QObject::connect(window.stage(), &ripple::app::Stage::drawn, &window, [&] {
            if (window.session().source()) {
                std::printf("first picture of the model: %.2f s\n",
                            static_cast<double>(sinceStart.elapsed()) / 1000.0);
                QTimer::singleShot(0, &application, &QApplication::quit);
            }
        });
    }
    const QStringList files = parser.positionalArguments();
    if (!files.isEmpty()) {
        // Qt's arguments lose bytes that are no UTF-8; the program's own have them.
        const auto raw = std::find_if(argv + 1, argv + argc, [&](const char* word) {
            return QString::fromLocal8Bit(word) == files[0];
        });
        window.openPath(raw == argv + argc ? files[0] : ripple::app::pathText(*raw));
    } else if (!forPictures) {
        window.offerUntitled();
    }
    if (parser.isSet(shots)) {
        return ripple::app::takeAllPictures(window, parser.value(shots), parser.value(demo));
    }
    if (parser.isSet(picture)) {
        return ripple::app::takePicture(window, parser.value(picture)) ? 0 : 1;
    }
    const int status = QApplication::exec();
    mainWindow.reset();
    // Work that was cancelled notices it within a moment. What does not is left behind: nothing of it is half
    // written, for files and folders are put in their places in one step, and what lies beside them is tidied
    // at the next start.
    constexpr int kMoment = 500; // milliseconds
    if (!ripple::app::LatestJob::waitForAll(kMoment)) {
        std::fflush(nullptr);
        ::_exit(status);
    }
    return status;
}
