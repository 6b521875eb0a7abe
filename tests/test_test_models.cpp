// Files that other programs wrote, read where the assimp-testmodels package puts them.

#include "bake/bake.h"
#include "bake/error.h"
#include "bake/texture_reader.h"
#include "problem_of.h"
#include "source/open.h"
#include "suite.h"

#include <QTest>

#include <cmath>

using namespace ripple;

namespace {

std::filesystem::path model(const char* name) {
    return std::filesystem::path(MODELS_FOLDER) / "glTF2" / name;
}

} // namespace

class TestTestModels : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void animatedModelsLoadAndBake_data() {
        QTest::addColumn<QString>("file");
        QTest::addColumn<int>("vertices");
        QTest::addColumn<double>("seconds");
        QTest::newRow("skin") << "simple_skin/simple_skin.gltf" << 10 << 5.5;
        QTest::newRow("morph") << "glTF-Sample-Models/AnimatedMorphCube-glTF/AnimatedMorphCube.gltf" << 24
                               << 4.199997425079346;
    }
    void animatedModelsLoadAndBake() {
        QFETCH(QString, file);
        QFETCH(int, vertices);
        QFETCH(double, seconds);
        const auto source = source::open(model(qPrintable(file)));
        QCOMPARE(source->mesh().vertexCount(), static_cast<std::size_t>(vertices));
        QCOMPARE(source->clips().size(), std::size_t(1));
        QVERIFY(std::abs(source->clips()[0].duration - seconds) < 1e-6);
        bake::Recipe recipe;
        recipe.positionStore = "float32";
        const bake::SamplePlan plan = bake::planSampling(*source, recipe);
        const bake::Frames frames = bake::sampleFrames(*source, plan);
        const bake::Baked baked = bake::encodeFrames(*source, plan, frames, recipe);
        const bake::TextureReader reader = baked.reader(source->mesh());
        const bake::ErrorReport report =
            bake::measureError(*source, plan, {&frames, nullptr}, reader, baked.textures.clips);
        QVERIFY(report.atFrames.max < 1e-6);
        QVERIFY(bake::measureMotion(frames, 0, frames.frames).largest > 0.0f);
    }
    void theSkinTurnsItsUpperHalf() {
        // simple_skin is the format's own tutorial: two joints; the upper one turns by 90° and back about Z,
        // at 1 m.
        const auto source = source::open(model("simple_skin/simple_skin.gltf"));
        std::vector<glm::vec3> p(10);
        std::vector<glm::vec3> n(10);
        source->sample(0, 1.5, p, n);
        const glm::vec3 rest =
            source->mesh().positions[8]; // on the top edge, two metres up, moved by the upper joint alone
        QCOMPARE(rest.y, 2.0f);
        QVERIFY(glm::distance(p[8], glm::vec3(-1.0f, 1.0f + rest.x, rest.z)) < 1e-5f ||
                glm::distance(p[8], glm::vec3(1.0f, 1.0f - rest.x, rest.z)) < 1e-5f);
        QVERIFY(glm::distance(p[0], source->mesh().positions[0]) < 1e-6f);
    }
    void stillModelsOpenWithAFinding() {
        for (const char* file :
             {"BoxTextured-glTF/BoxTextured.gltf", "2CylinderEngine-glTF-Binary/2CylinderEngine.glb",
              "textureTransform/TextureTransformTest.gltf"}) {
            const auto source = source::open(model(file));
            QVERIFY(source->mesh().triangleCount() > 0);
            QVERIFY(tests::has(source->findings(), "no-animation"));
        }
        const auto box = source::open(model("BoxTextured-glTF/BoxTextured.gltf"));
        QVERIFY(box->mesh().materials[0].baseColourImage);
        const auto engine = source::open(model("2CylinderEngine-glTF-Binary/2CylinderEngine.glb"));
        QVERIFY(engine->meshes().size() > 20);
    }
    void brokenModelsAreProblems_data() {
        QTest::addColumn<QString>("file");
        QTest::addColumn<QString>("words");
        QTest::newRow("index") << "IndexOutOfRange/IndexOutOfRange.gltf"
                               << "points to vertex";
        QTest::newRow("all indices") << "IndexOutOfRange/AllIndicesOutOfRange.gltf"
                                     << "points to vertex";
        QTest::newRow("missing bin") << "MissingBin/BoxTextured.gltf"
                                     << "";
        QTest::newRow("recursive nodes") << "RecursiveNodes/RecursiveNodes.gltf"
                                         << "";
        QTest::newRow("infinite positions") << "BoxWithInfinites-glTF-Binary/BoxWithInfinites.glb"
                                            << "not a number";
        QTest::newRow("wrong types") << "wrongTypes/badArray.gltf"
                                     << "";
        QTest::newRow("scene of wrong type") << "SchemaFailures/sceneWrongType.gltf"
                                             << "";
        QTest::newRow("compressed") << "draco/2CylinderEngine.gltf"
                                    << "KHR_draco_mesh_compression";
        QTest::newRow("no nodes") << "TestNoRootNode/SceneWithoutNodes.gltf"
                                  << "no triangles";
    }
    void brokenModelsAreProblems() {
        QFETCH(QString, file);
        QFETCH(QString, words);
        QVERIFY(std::filesystem::exists(model(qPrintable(file))));
        QVERIFY(tests::says(tests::problemOf([&] { source::open(model(qPrintable(file))); }),
                            words.toStdString()));
    }
    void objModelsOfOtherProgramsOpen() {
        const auto spider = source::open(std::filesystem::path(MODELS_FOLDER) / "OBJ/spider.obj");
        QVERIFY(spider->mesh().vertexCount() > 700);
        QVERIFY(spider->mesh().parts.size() > 1);
    }
};

static const ripple::tests::SuiteOf<TestTestModels> kSuite;
#include "test_test_models.moc"
