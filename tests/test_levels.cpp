// Levels of detail in a bundle: over the same vertices, so on the same textures.

#include "base/files.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "bundle/read_bundle.h"
#include "bundle/write_bundle.h"
#include "source/gltf_write.h"
#include "source/open.h"
#include "problem_of.h"
#include "suite.h"
#include "two_clips.h"

#include <QTemporaryDir>
#include <QTest>

#include <set>

#include <glm/geometric.hpp>

using namespace ripple;
using namespace ripple::bundle;

class TestLevels : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;

    std::filesystem::path folder(const char* name) const {
        return std::filesystem::path(dir_.path().toStdString()) / name;
    }
    static tinygltf::Model modelIn(const std::filesystem::path& file) {
        tinygltf::Model model;
        std::string error;
        std::string warning;
        tinygltf::TinyGLTF loader;
        loader.SetImageLoader([](auto...) { return true; }, nullptr);
        loader.LoadBinaryFromFile(&model, &error, &warning, file.string());
        return model;
    }

private Q_SLOTS:
    void levelsShareVerticesAndTextures() {
        const auto heron = source::open(std::filesystem::path(DEMO_FOLDER) / "heron.glb");
        bake::Recipe recipe;
        recipe.clips = {{"stroll", {}, {}}};
        base::Progress progress;
        const Manifest written =
            writeBundle(*heron, recipe, {}, folder("heron"), progress, {.levels = kMostLevels});
        QVERIFY(written.levels.size() >= 2);
        QVERIFY(readManifest(folder("heron")).levels.size() == written.levels.size());
        const CheckReport report = check(folder("heron"), heron.get());
        QVERIFY2(report.ok(), report.ok() ? "" : report.problems[0].line().c_str());
        const tinygltf::Model model = modelIn(folder("heron") / "heron.glb");
        QCOMPARE(model.nodes.size(), std::size_t(1)); // nothing but the whole mesh is shown
        QCOMPARE(model.nodes[0].mesh, 0);
        QCOMPARE(model.meshes.size(), written.levels.size() + 1);
        std::size_t before = heron->mesh().triangleCount();
        double error = 0.0;
        for (std::size_t l = 0; l < written.levels.size(); ++l) {
            const LevelEntry& level = written.levels[l];
            QVERIFY(level.triangles < before); // each coarser than the one before
            QVERIFY(level.error >= error && level.error < 0.2);
            QVERIFY(level.distance > 0.0);
            before = level.triangles;
            error = level.error;
            const tinygltf::Mesh& mesh = model.meshes[l + 1];
            QCOMPARE(mesh.primitives.size(), model.meshes[0].primitives.size());
            std::size_t triangles = 0;
            for (std::size_t p = 0; p < mesh.primitives.size(); ++p) {
                QVERIFY(mesh.primitives[p].attributes == model.meshes[0].primitives[p].attributes);
                QCOMPARE(static_cast<std::size_t>(mesh.primitives[p].indices), level.accessors[p]);
                triangles += model.accessors[level.accessors[p]].count / 3;
            }
            QCOMPARE(triangles, level.triangles);
        }
        // An error of e metres is a pixel of 1080 over 60 degrees at e · 540 / tan 30°.
        const LevelEntry& last = written.levels.back();
        QVERIFY(std::abs(last.distance / (last.error * 540.0 / std::tan(3.14159265358979 / 6.0)) - 1.0) <
                1e-3);
        // Reading it back gives the mesh as it is without levels.
        QCOMPARE(readBundle(folder("heron")).mesh.vertexCount(), heron->mesh().vertexCount());
        QCOMPARE(readBundle(folder("heron")).mesh.indices.size(), heron->mesh().indices.size());
    }
    void damagedLevelsAreProblems() {
        const tests::TwoClips source;
        base::Progress progress;
        const Manifest written = writeBundle(source, {}, {}, folder("waves"), progress, {.levels = 1});
        QCOMPARE(written.levels.size(), std::size_t(1));
        const auto glb = folder("waves") / "waves.glb";
        QVERIFY(problemsOfLevels(glb, written.levels).empty());
        std::vector<LevelEntry> odd = written.levels;
        odd[0].triangles += 1;
        QVERIFY(tests::says(problemsOfLevels(glb, odd).at(0), "another number"));
        odd = written.levels;
        odd[0].accessors[0] = 0; // positions are no indices
        QVERIFY(tests::says(problemsOfLevels(glb, odd).at(0), "no vertex"));
        odd[0].accessors[0] = 9999;
        QVERIFY(tests::says(problemsOfLevels(glb, odd).at(0), "no vertex"));
        odd[0].accessors.clear();
        QVERIFY(tests::says(problemsOfLevels(glb, odd).at(0), "not there"));
    }
    void withoutLevelsNothingIsAdded() {
        const tests::TwoClips source;
        base::Progress progress;
        QVERIFY(writeBundle(source, {}, {}, folder("plain"), progress).levels.empty());
        QCOMPARE(modelIn(folder("plain") / "plain.glb").meshes.size(), std::size_t(1));
    }
};

static const ripple::tests::SuiteOf<TestLevels> kSuite;
#include "test_levels.moc"
