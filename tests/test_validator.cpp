// What the glTF standard's own validator says of the demo's files and of the meshes in bundles: nothing. (Of
// those of models that nobody here made: test_all_models.cpp.)

#include "bake/kind.h"
#include "base/progress.h"
#include "bundle/write_bundle.h"
#include "gltf_validator.h"
#include "scatter/copies_file.h"
#include "source/open.h"
#include "suite.h"

#include <QDir>
#include <QTemporaryDir>
#include <QTest>

using namespace ripple;

class TestValidator : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void theDemosFilesAreValid() {
        QStringList files;
        for (const QString& name : QDir(DEMO_FOLDER).entryList({"*.glb"}, QDir::Files, QDir::Name)) {
            files << QString(DEMO_FOLDER) + "/" + name;
        }
        // The meshes of scores as code, with what the code reads.
        const QString scores = QString(DEMO_FOLDER) + "/scores/";
        for (const QString& name : QDir(scores).entryList(QDir::Dirs | QDir::NoDotAndDotDot, QDir::Name)) {
            files << scores + name + "/" + name + ".glb";
        }
        QVERIFY(files.size() >= 8);
        QCOMPARE(tests::saidByTheValidator(files), QString("%1 files\n").arg(files.size()));
    }
    void theMeshesOfBundlesAreValid() {
        QTemporaryDir folder;
        struct Wanted {
            const char* source;
            const bake::Kind* kind;
            std::optional<std::size_t> lookup;
        };
        const Wanted all[] = {{"heron.glb", &bake::kVertices, {}},
                              {"heron.glb", &bake::kVertices, 3}, // with sets between that are filled
                              {"bulrush.glb", &bake::kVertices, {}},
                              {"awning_####.obj", &bake::kShapes, {}},
                              {"crates.pc2", &bake::kPieces, {}},
                              {"heron.glb", &bake::kJoints, {}}};
        QStringList files;
        for (const Wanted& one : all) {
            const auto source = source::open(std::filesystem::path(DEMO_FOLDER) / one.source);
            bake::Recipe recipe = bake::withKind({}, *one.kind);
            recipe.lookupUvSet = one.lookup;
            const QString out = folder.filePath(QString("b%1").arg(files.size()));
            base::Progress progress;
            bundle::writeBundle(*source, recipe, {}, out.toStdString(), progress);
            files << out + "/" + QFileInfo(out).fileName() + ".glb";
        }
        // Many copies of one of them.
        scatter::Placement placement;
        placement.pattern = "even";
        placement.count = 200;
        const auto source = source::open(std::filesystem::path(DEMO_FOLDER) / "bulrush.glb");
        const auto copies = scatter::placeCopies(placement, {}, *scatter::unevenGround());
        files << folder.filePath("copies.glb");
        base::writeFile(files.back().toStdString(), scatter::copiesGlb(source->mesh(), "bulrush", copies));
        QCOMPARE(tests::saidByTheValidator(files), QString("%1 files\n").arg(files.size()));
    }
};

static const ripple::tests::SuiteOf<TestValidator> kSuite;
#include "test_validator.moc"
