#include "own_places.h"

#include "demo/make_demo.h"
#include "project/document.h"

#include <QDir>
#include <QFile>

namespace ripple::tests {

QString ownDemo(const QString& file) {
    static const QString kDemo = [] {
        const QString to = ownFolder().filePath("demo");
        QDir().mkpath(to);
        for (const QString& name : QDir(DEMO_FOLDER).entryList(QDir::Files)) {
            QFile::copy(QString(DEMO_FOLDER) + "/" + name, to + "/" + name);
        }
        project::Document herd = project::loadDocument((to + "/herons.curly").toStdString());
        herd.source.path = DEMO_FOLDER "/heron.glb";
        project::saveDocument(herd, (to + "/herd.curly").toStdString());
        demo::makeHeron((to + "/heron.glb").toStdString(), 0.5f);
        project::Document reeds = project::loadDocument((to + "/bulrushes.curly").toStdString());
        reeds.scatter.placement.count = 20;
        project::saveDocument(reeds, (to + "/bulrushes.curly").toStdString());
        project::Document brief = project::loadDocument((to + "/awning.curly").toStdString());
        brief.source.reading.time.range = source::FrameRange{0, 39};
        project::saveDocument(brief, (to + "/brief.curly").toStdString());
        project::Document crab = project::loadDocument((to + "/heron.curly").toStdString());
        crab.source.path = (to + "/crab.glb").toStdString();
        project::saveDocument(crab, (to + "/crab.curly").toStdString());
        return to;
    }();
    return kDemo + "/" + file;
}

} // namespace ripple::tests
