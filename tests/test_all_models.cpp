// Every file of the installed test models that can be baked is also sound by its own check, with every kind
// of bake, store and form of normals.

#include "bake/kind.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "bundle/write_bundle.h"
#include "model_files.h"
#include "problem_of.h"
#include "source/open.h"
#include "suite.h"

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
        for (const auto& file : tests::modelFiles()) {
            std::shared_ptr<const source::FrameSource> source;
            try {
                source = source::open(file, {}, {});
            } catch (const base::Failure&) {
                continue; // what can't be read says so, which is tested elsewhere
            }
            if (source->mesh().vertexCount() > kMostVertices) {
                continue;
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
                    const bake::SamplePlan plan = bake::planSampling(*source, recipe);
                    if (plan.frameCount() * source->mesh().vertexCount() > kMostSamples) {
                        continue;
                    }
                    QTemporaryDir folder;
                    const std::filesystem::path out =
                        std::filesystem::path(folder.path().toStdString()) / "model";
                    base::Progress progress;
                    bundle::writeBundle(*source, recipe, {}, out, progress);
                    ++baked;
                    const bundle::CheckReport report = bundle::check(out, source.get());
                    for (const base::Problem& problem : report.problems) {
                        wrong << QString::fromStdString(what + ": " + problem.line());
                    }
                } catch (const base::Failure&) {
                    // What does not fit (pieces that bend, textures over the limit) is a problem by name.
                }
            }
        }
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong.join("\n")));
        QVERIFY2(baked > 300, qPrintable(QString::number(baked)));
    }
};

static const ripple::tests::SuiteOf<TestAllModels> kSuite;
#include "test_all_models.moc"
