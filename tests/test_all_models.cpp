// Every file of the installed test models that can be baked is also sound by its own check, with every kind
// of bake, store and form of normals; and the standard's own validator says nothing of its mesh.

#include "bake/kind.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "bundle/write_bundle.h"
#include "gltf_validator.h"
#include "model_files.h"
#include "problem_of.h"
#include "source/open.h"
#include "suite.h"

#include <QFile>
#include <QTemporaryDir>
#include <QTest>

using namespace ripple;

namespace {

/// Larger ones take the same ways and much longer.
constexpr std::size_t kMostVertices = 20000;
constexpr std::size_t kMostSamples = 500000; // vertices × frames

constexpr const bake::Kind* kKinds[] = {&bake::kVertices, &bake::kShapes, &bake::kPieces, &bake::kJoints};

} // namespace

class TestAllModels : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void whatBakesAlsoChecks() {
        std::size_t baked = 0;
        std::size_t models = 0;
        QStringList wrong;
        QTemporaryDir meshes;
        QStringList glbs;
        for (const auto& file : tests::modelFiles()) {
            std::shared_ptr<const source::FrameSource> source;
            try {
                source = source::open(file, {}, {});
            } catch (const base::Failure&) {
                continue; // what can't be read says so, which is tested elsewhere
            }
            ++models;
            // Each model goes through each kind; store, content and normals change on the way, so that each
            // goes with each kind over all models.
            for (std::size_t way = 0; way < std::size(kKinds); ++way) {
                const bake::Kind* kind = kKinds[way];
                bake::Recipe recipe;
                recipe.positionStore =
                    bake::positionStores()[(way + models) % bake::positionStores().size()].name;
                recipe.normalStore =
                    bake::normalStores()[(way + models / 4) % bake::normalStores().size()].name;
                recipe.content =
                    (way + models / 4) % 3 == 0 ? bake::Content::absolute : bake::Content::offset;
                if ((kind == &bake::kShapes || kind == &bake::kJoints) &&
                    recipe.positionStore == "unorm8x2") {
                    continue; // holds neither shapes nor joints
                }
                recipe = bake::withKind(recipe, *kind);
                recipe.shapes = 4;
                const std::string what = file.string().substr(std::string(MODELS_FOLDER).size()) + " as " +
                                         kind->id + " " + recipe.positionStore + " " + recipe.normalStore;
                try {
                    const std::size_t vertices = source->mesh().vertexCount();
                    const bool whole =
                        vertices <= kMostVertices &&
                        bake::planSampling(*source, recipe).frameCount() * vertices <= kMostSamples;
                    if (!whole && way > 0) {
                        continue;
                    }
                    recipe.step = whole ? 1 : 1000; // of large ones it is the mesh that is looked at
                    const QString name = QString("m%1").arg(glbs.size());
                    const QTemporaryDir folder;
                    const QString out = folder.filePath(name);
                    base::Progress progress;
                    bundle::writeBundle(*source, recipe, {}, out.toStdString(), progress,
                                        {.levels = way == 0 ? 2u : 0u});
                    if (whole) {
                        ++baked;
                        for (const auto& problem : bundle::check(out.toStdString(), source.get()).problems) {
                            wrong << QString::fromStdString(what + ": " + problem.line());
                        }
                    }
                    if (way == 0) {
                        glbs << meshes.filePath(name + ".glb");
                        QVERIFY(QFile::rename(out + "/" + name + ".glb", glbs.back()));
                    }
                } catch (const base::Failure&) {
                    // What does not fit (pieces that bend, textures over the limit) is a problem by name.
                }
            }
        }
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong.join("\n")));
        QVERIFY2(baked > 300, qPrintable(QString::number(baked)));
        QVERIFY(glbs.size() > 200);
        QCOMPARE(tests::saidByTheValidator(glbs), QString("%1 files\n").arg(glbs.size()));
    }
};

static const ripple::tests::SuiteOf<TestAllModels> kSuite;
#include "test_all_models.moc"
