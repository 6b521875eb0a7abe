#include "bake/error.h"
#include "bake/sampling.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "demo/heron_clips.h"
#include "demo/make_demo.h"
#include "mesh/bounds.h"
#include "mesh/faults.h"
#include "motion/ready_scores.h"
#include "project/document.h"
#include "source/open.h"
#include "suite.h"

#include <QImage>
#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/geometric.hpp>

using namespace ripple;

namespace {

constexpr std::size_t kSide = 65;

std::shared_ptr<const source::FrameSource> openDemo(const char* file) {
    return source::open(std::filesystem::path(DEMO_FOLDER) / file);
}

/// How many vertices are at the same place in all frames.
std::size_t countStill(const bake::Frames& frames) {
    std::size_t still = 0;
    for (std::size_t v = 0; v < frames.vertices; ++v) {
        bool same = true;
        for (std::size_t f = 1; f < frames.frames && same; ++f) {
            same = frames.positionsOf(f)[v] == frames.positionsOf(0)[v];
        }
        still += same;
    }
    return still;
}

} // namespace

class TestDemo : public QObject {
    Q_OBJECT

    std::shared_ptr<const source::FrameSource> awning_;
    bake::Frames cloth_;

private Q_SLOTS:
    void initTestCase() {
        awning_ = openDemo("awning_####.obj");
        cloth_ = bake::sampleFrames(*awning_, bake::planSampling(*awning_, {}));
    }
    void modelsForScoresAreSound_data() {
        QTest::addColumn<QString>("model");
        QTest::addColumn<double>("largest"); // metres: its longest side
        QTest::addRow("bulrush") << "bulrush" << 1.8;
        QTest::addRow("windsock") << "windsock" << 2.95;
        QTest::addRow("swell") << "swell" << 8.0;
        QTest::addRow("skate") << "skate" << 1.86;
        QTest::addRow("gull") << "gull" << 1.44;
        QTest::addRow("anemone") << "anemone" << 0.64;
        QTest::addRow("lantern") << "lantern" << 0.96;
    }
    void modelsForScoresAreSound() {
        QFETCH(QString, model);
        QFETCH(double, largest);
        const auto source = openDemo(qPrintable(model + ".glb"));
        const mesh::Mesh& mesh = source->mesh();
        mesh::Bounds bounds;
        bounds.add(mesh.positions);
        const glm::vec3 size = bounds.size();
        QVERIFY(std::abs(static_cast<double>(std::max({size.x, size.y, size.z})) - largest) < 0.05 * largest);
        QVERIFY(mesh::unusedVertices(mesh).empty());
        QVERIFY(mesh::degenerateTriangles(mesh).empty());
        QVERIFY(mesh.vertexCount() > 800 && mesh.vertexCount() < 20000);
        QVERIFY(mesh.materials[0].baseColourImage);
        QCOMPARE(mesh.stored.size(), std::size_t(1));
        for (std::size_t v = 0; v < mesh.vertexCount(); ++v) {
            QVERIFY(std::abs(glm::length(mesh.normals[v]) - 1.0f) < 1e-3f);
            const glm::vec2 uv = mesh.uvSets[0][v];
            QVERIFY(uv.x >= 0.0f && uv.x <= 1.0f && uv.y >= 0.0f && uv.y <= 1.0f);
        }
        const project::Document document =
            project::loadDocument(std::filesystem::path(DEMO_FOLDER) / (model.toStdString() + ".curly"));
        QVERIFY(document.score.voices.size() >= 3);
        QCOMPARE(document.view.bench, std::string("move"));
    }
    void awningIsWhatTheScenarioSays() {
        QCOMPARE(awning_->mesh().vertexCount(), kSide * kSide);
        QCOMPARE(awning_->mesh().triangleCount(), std::size_t(8192));
        QCOMPARE(awning_->clips()[0].frames, std::size_t(120));
        QVERIFY(awning_->mesh().materials[0].baseColourImage);
        const mesh::EncodedImage& image = *awning_->mesh().materials[0].baseColourImage;
        QVERIFY(!QImage::fromData(reinterpret_cast<const uchar*>(image.bytes.data()),
                                  static_cast<int>(image.bytes.size()))
                     .isNull());
    }
    void railStaysAndCanvasMoves() {
        for (std::size_t f = 0; f < cloth_.frames; ++f) {
            for (std::size_t c = 0; c < kSide; ++c) {
                QCOMPARE(cloth_.positionsOf(f)[c], cloth_.positionsOf(0)[c]);
            }
        }
        const std::size_t still = countStill(cloth_);
        QVERIFY(still >= kSide && still < 2 * kSide);
        const bake::Motion motion = bake::measureMotion(cloth_, 0, cloth_.frames);
        QVERIFY(motion.medianMax > 0.005f &&
                motion.medianMax < 0.05f); // metres a frame: flutter, not explosion
    }
    void canvasDoesNotStretchLikeRubber() {
        // Neighbours across the canvas (the valance's edge is cut on a curve), against their woven length.
        float longest = 0.0f;
        for (std::size_t f = 0; f < cloth_.frames; f += 7) {
            for (std::size_t r = 0; r <= 50; ++r) {
                for (std::size_t c = 0; c + 1 < kSide; ++c) {
                    const auto p = cloth_.positionsOf(f);
                    longest = std::max(longest, glm::distance(p[r * kSide + c], p[r * kSide + c + 1]));
                }
            }
        }
        const float woven = 4.0f / 64.0f * 1.035f;
        QVERIFY2(longest < 1.25f * woven, qPrintable(QString::number(longest / woven)));
    }
    void cratesTumbleAndStayStiff() {
        const auto crates = openDemo("crates.pc2");
        QCOMPARE(crates->clips()[0].frames, std::size_t(90));
        const bake::Frames frames = bake::sampleFrames(*crates, bake::planSampling(*crates, {}));
        const mesh::Mesh& mesh = crates->mesh();
        float low = 1.0f;
        float fallen = 0.0f;
        for (std::size_t f = 0; f < frames.frames; f += 3) {
            const auto p = frames.positionsOf(f);
            for (std::size_t v = 0; v < p.size(); ++v) {
                low = std::min(low, p[v].y);
                fallen = std::max(fallen, mesh.positions[v].y - p[v].y);
            }
            for (std::size_t i = 0; i + 1 < mesh.indices.size(); i += 7) { // edges keep their length
                const auto a = mesh.indices[i];
                const auto b = mesh.indices[i - i % 3 + (i + 1) % 3];
                const float now = glm::distance(p[a], p[b]);
                QVERIFY(std::abs(now - glm::distance(mesh.positions[a], mesh.positions[b])) < 2e-5f);
            }
        }
        QVERIFY2(low > -0.02f, qPrintable(QString::number(low))); // on the ground, not in it
        QVERIFY2(fallen > 0.5f, qPrintable(QString::number(fallen)));
    }
    void endsDoNotMeetButNearlyRepeat() {
        const double gap = bake::seamGap(cloth_, 0, cloth_.frames);
        const bake::Motion motion = bake::measureMotion(cloth_, 0, cloth_.frames);
        QVERIFY(gap > 2.0 * static_cast<double>(motion.medianMax));
        // Some frame about 96 later is more alike than the ends are.
        float best = 10.0f;
        for (std::size_t a = 0; a + 90 < cloth_.frames; ++a) {
            for (std::size_t b = a + 90; b < cloth_.frames; ++b) {
                float most = 0.0f;
                for (std::size_t v = 0; v < cloth_.vertices; v += 5) {
                    most = std::max(most, glm::distance(cloth_.positionsOf(a)[v], cloth_.positionsOf(b)[v]));
                }
                best = std::min(best, most);
            }
        }
        QVERIFY(static_cast<double>(best) < gap);
    }
    void makingItAgainGivesTheSameBytes() {
        QTemporaryDir dir;
        const std::filesystem::path folder = dir.path().toStdString();
        demo::makeHeron(folder / "heron.glb");
        QVERIFY(base::readFile(folder / "heron.glb") ==
                base::readFile(std::filesystem::path(DEMO_FOLDER) / "heron.glb"));
        demo::makeAwning(folder, 2, base::Progress());
        QVERIFY(base::readFile(folder / "awning_0001.obj") ==
                base::readFile(std::filesystem::path(DEMO_FOLDER) / "awning_0001.obj"));
    }
    void heronIsWhatTheScenarioSays() {
        const auto heron = openDemo("heron.glb");
        QVERIFY(heron->mesh().vertexCount() >= 1500 && heron->mesh().vertexCount() <= 3000);
        QCOMPARE(heron->joints().size(), std::size_t(24));
        QVERIFY(heron->findings().empty());
        const bake::SamplePlan plan = bake::planSampling(*heron, {});
        QCOMPARE(plan.clips.size(), std::size_t(3));
        QCOMPARE(plan.clips[0].name, std::string("stroll"));
        QVERIFY(plan.clips[0].closed);
        QVERIFY(!plan.clips[1].closed && !plan.clips[2].closed);
        mesh::Bounds bounds;
        bounds.add(heron->mesh().positions);
        QVERIFY(bounds.max.y > 0.9f && bounds.max.y < 1.1f);
        QVERIFY(std::abs(bounds.min.y) < 0.01f);
        const bake::Frames frames = bake::sampleFrames(*heron, plan);
        for (const glm::vec3& p : frames.positions) {
            QVERIFY2(p.y > -0.012f,
                     qPrintable(QString::number(p.y))); // it walks on the ground, and pecks no hole in it
        }
    }
    void kneesBendBackwardAndFeetStandFirm() {
        using namespace ripple::demo;
        const HeronClip& stroll = heronClips()[0];
        for (int step = 0; step < 40; ++step) {
            const float seconds = stroll.seconds * static_cast<float>(step) / 40.0f;
            const Posture posture = stroll.at(seconds);
            const HeronPose pose = solvePosture(posture);
            // Forward kinematics of its own, from the local rotations that the file gets.
            std::array<glm::quat, kHeronJoints> world;
            std::array<glm::vec3, kHeronJoints> place;
            for (std::size_t j = 0; j < kHeronJoints; ++j) {
                const int parent = kHeronBones[j].parent;
                if (parent < 0) {
                    world[j] = pose.rotation[j];
                    place[j] = glm::vec3(0.0f);
                    continue;
                }
                const auto p = static_cast<std::size_t>(parent);
                const glm::vec3 offset =
                    j == kBody ? pose.bodyTranslation : kHeronBones[j].rest - kHeronBones[p].rest;
                place[j] = place[p] + world[p] * offset;
                world[j] = world[p] * pose.rotation[j];
            }
            for (const std::size_t hip : {std::size_t(kHipL), std::size_t(kHipR)}) {
                const glm::vec3 knee = place[hip + 1];
                const glm::vec3 ankle = place[hip + 2];
                const glm::vec3 foot = place[hip + 3];
                // The ankle lies behind the line from knee to foot.
                const float t = (ankle.y - foot.y) / (knee.y - foot.y);
                QVERIFY(ankle.z < foot.z + t * (knee.z - foot.z));
                const glm::vec3 wanted =
                    posture.foot[hip == kHipL ? 0 : 1] + glm::vec3(0, kHeronBones[hip + 3].rest.y, 0);
                QVERIFY2(glm::distance(foot, wanted) < 0.012f,
                         qPrintable(QString::number(glm::distance(foot, wanted))));
            }
        }
    }
    void projectsOpenTheirSources() {
        for (const char* name : {"awning.curly", "heron.curly"}) {
            const project::Document document =
                project::loadDocument(std::filesystem::path(DEMO_FOLDER) / name);
            QVERIFY(source::open(document.source.path)->mesh().vertexCount() > 1000);
        }
    }
    void everyReadyScoreIsThereAsCode() {
        for (const motion::ReadyScore& ready : motion::readyScores()) {
            const std::filesystem::path folder = std::filesystem::path(DEMO_FOLDER) / "scores" / ready.id;
            const std::string model = ready.demoModel;
            const auto source = openDemo((model == "awning" ? "awning_0000.obj" : model + ".glb").c_str());
            const bundle::CheckReport report = bundle::check(folder, source.get());
            QVERIFY2(report.ok(), report.ok() ? "" : report.problems[0].line().c_str());
            for (const char* language : {"glsl", "hlsl", "wgsl"}) {
                QVERIFY(std::filesystem::exists(folder / (std::string(ready.id) + "." + language)));
                QVERIFY(std::filesystem::exists(folder / (std::string(ready.id) + ".vertex." + language)));
            }
        }
    }
};

static const ripple::tests::SuiteOf<TestDemo> kSuite;
#include "test_demo.moc"
