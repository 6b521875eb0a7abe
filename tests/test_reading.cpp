// How a source is read: the choices as text, and each of them on a source whose poses are known.

#include "analytic_source.h"
#include "mesh/faults.h"
#include "mesh/stray.h"
#include "mesh/uv_sets.h"
#include "problem_of.h"
#include "source/adjusted.h"
#include "source/frame_cache.h"
#include "suite.h"

#include <QTest>

#include <atomic>
#include <thread>

#include <glm/gtc/matrix_transform.hpp>

using namespace ripple;
using tests::says;

namespace {

source::Reading full() {
    source::Reading reading;
    reading.meshes = {"a", "b \"quoted\""};
    reading.metresPerUnit = 0.0254;
    reading.up = source::Axis::x;
    reading.subdivisions = 3;
    reading.time = {23.976, source::FrameRange{7, 91}, 0.5, true};
    reading.mending = {true, false, true, false, true, true, false, true, true, 4};
    return reading;
}

std::shared_ptr<tests::AnalyticSource> moving(source::Clip clip, tests::AnalyticSource::Pose pose) {
    return std::make_shared<tests::AnalyticSource>(3, std::move(clip), std::move(pose));
}

glm::vec3 pointAt(const source::FrameSource& source, double seconds, std::size_t vertex) {
    std::vector<glm::vec3> positions(source.mesh().vertexCount());
    source.sample(0, seconds, positions, {}); // normals are not wanted
    return positions[vertex];
}

} // namespace

class TestReading : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void choicesComeBackThroughText() {
        QVERIFY(source::parseReading(source::readingText(full()), "t") == full());
        QCOMPARE(source::readingText({}), std::string("{}")); // nothing chosen, nothing written
        QVERIFY(source::parseReading("{}", "t") == source::Reading());
    }
    void oddChoicesAreProblems_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("key");
        QTest::newRow("no object") << "[]"
                                   << "does not hold";
        QTest::newRow("no JSON") << "{"
                                 << "does not hold";
        QTest::newRow("unit of 0") << R"({"metres_per_unit": 0})"
                                   << "metres_per_unit";
        QTest::newRow("unit in words") << R"({"metres_per_unit": "cm"})"
                                       << "metres_per_unit";
        QTest::newRow("negative rate") << R"({"rate": -3})"
                                       << "rate";
        QTest::newRow("speed without end") << R"({"speed": 1e12})"
                                           << "speed";
        QTest::newRow("too many joints") << R"({"max_influences": 65})"
                                         << "max_influences";
        QTest::newRow("half a range") << R"({"first_frame": 5})"
                                      << "last_frame";
        QTest::newRow("fractional count") << R"({"subdivisions": -1})"
                                          << "subdivisions";
        QTest::newRow("flag of another kind") << R"({"make_uvs": "yes"})"
                                              << "make_uvs";
    }
    void oddChoicesAreProblems() {
        QFETCH(QString, text);
        QFETCH(QString, key);
        QVERIFY(says(tests::problemOf([&] { source::parseReading(text.toStdString(), "here"); }), "here",
                     key.toStdString()));
    }
    void axesAreTurnedRightHanded() {
        for (const source::Axis axis : {source::Axis::x, source::Axis::y, source::Axis::z}) {
            const glm::mat3 m = source::toYUp(axis);
            glm::vec3 up(0.0f);
            up[static_cast<int>(axis)] = 1.0f;
            QCOMPARE(m * up, glm::vec3(0, 1, 0));
            QCOMPARE(glm::determinant(m), 1.0f); // no mirroring
        }
    }
    void nothingToDoGivesTheSourceItself() {
        const auto plain = moving(tests::timed(1.0), tests::drift(1.0f));
        QVERIFY(source::adjust(plain, {}) == plain);
        source::Reading same;
        same.metresPerUnit = 1.0;
        same.up = source::Axis::y;
        QVERIFY(source::adjust(plain, same) == plain);
    }
    void unitsAndAxesMoveEverything() {
        source::Reading reading;
        reading.metresPerUnit = 0.01;
        reading.up = source::Axis::z;
        const auto source = source::adjust(moving(tests::timed(1.0), tests::drift(2.0f)), reading);
        // Vertex 8 rests at (1, 0, 1): z is up, so it goes to (0.01, 0.01, 0).
        QVERIFY(glm::distance(source->mesh().positions[8], glm::vec3(0.01f, 0.01f, 0.0f)) < 1e-8f);
        QCOMPARE(source->mesh().normals[0], glm::vec3(0, 0, -1));
        QVERIFY(glm::distance(pointAt(*source, 0.5, 8), glm::vec3(0.02f, 0.01f, 0.0f)) < 1e-8f);
        QVERIFY(source->space().stated);
    }
    void timeRunsAsItIsTold() {
        source::Reading reading;
        reading.time = {12.0, source::FrameRange{2, 8}, 3.0, true};
        const auto source = source::adjust(moving(tests::sequence(11), tests::drift(30.0f)), reading);
        const source::Clip& clip = source->clips()[0];
        QCOMPARE(clip.frames, std::size_t(7));
        QCOMPARE(clip.fps, 36.0);
        QVERIFY(std::abs(clip.duration - 6.0 / 36.0) < 1e-12);
        // Drift is a metre a stored frame: backward from frame 8 to frame 2.
        QVERIFY(std::abs(pointAt(*source, 0.0, 0).x - 7.0f) < 1e-4f);
        QVERIFY(std::abs(pointAt(*source, clip.duration, 0).x - 1.0f) < 1e-4f);
        QVERIFY(std::abs(pointAt(*source, 1.5 / 36.0, 0).x - 5.5f) < 1e-4f);
    }
    void splittingFollowsEveryFrame() {
        const auto source = source::subdivideFrames(moving(tests::sequence(5), tests::wave(1.0)), 1);
        QCOMPARE(source->mesh().vertexCount(), std::size_t(25));
        const auto below = moving(tests::sequence(5), tests::wave(1.0));
        std::vector<glm::vec3> p(25);
        std::vector<glm::vec3> n(25);
        source->sample(0, 3.0 / 30.0, p, n);
        std::size_t middles = 0;
        for (std::size_t v = 9; v < 25; ++v) {
            for (std::size_t a = 0; a < 9; ++a) {
                for (std::size_t b = a + 1; b < 9; ++b) {
                    middles += glm::distance(p[v], 0.5f * (p[a] + p[b])) < 1e-7f;
                }
            }
            QVERIFY(std::abs(glm::length(n[v]) - 1.0f) < 1e-5f);
        }
        QVERIFY(middles >= 16); // each lies in the middle of two old ones
        QCOMPARE(p[4], pointAt(*below, 3.0 / 30.0, 4));
    }
    void mendingThatLeavesNothingIsAProblem() {
        auto flat = moving(tests::timed(1.0), tests::drift(0.0f));
        for (glm::vec3& p : flat->editMesh().positions) {
            p = glm::vec3(p.x, 0.0f, 0.0f); // all on a line
        }
        source::Reading reading;
        reading.mending.dropDegenerate = true;
        QVERIFY(says(tests::problemOf([&] { source::adjust(flat, reading); }), "sheet", "nothing is left"));
    }
    void straysAreFoundAndATravellerIsNot() {
        std::vector<glm::vec3> points;
        for (int i = 0; i < 400; ++i) {
            points.push_back({0.01f * static_cast<float>(i % 20), 0.01f * static_cast<float>(i / 20), 0.0f});
        }
        const mesh::StrayTest test = mesh::StrayTest::ofPose(points);
        QVERIFY(test.find(points).empty());
        points[7] = {1e4f, 0, 0};
        points[300].y = std::nanf("");
        QCOMPARE(test.find(points), (std::vector<std::uint32_t>{7, 300}));
        for (glm::vec3& p : points) {
            p += glm::vec3(5e3f, 0, 0); // the whole model flies off: that can be meant
        }
        points[7] = points[300] = points[8];
        QVERIFY(test.find(points).empty());
        QCOMPARE(mesh::StrayTest::ofPose({}).find({}).size(), std::size_t(0));
    }
    void plainUvsAreSeenAlongTheThinnestSide() {
        mesh::Mesh wall;
        wall.positions = {{0, 0, 0}, {4, 0, 0}, {4, 2, 0.1f}, {0, 2, 0}};
        const std::vector<glm::vec2> uvs = mesh::projectedUvs(wall);
        QCOMPARE(uvs[0], glm::vec2(0.0f, 0.5f)); // V downward, by the larger side
        QCOMPARE(uvs[2], glm::vec2(1.0f, 0.0f));
    }
    void theFreeSetIsTheFirstEmptyOne() {
        mesh::Mesh mesh;
        mesh.positions.resize(3);
        mesh.materials.emplace_back();
        QCOMPARE(mesh::freeUvSet(mesh), std::size_t(0));
        mesh.uvSets = {{{0, 0}, {1, 0}, {0, 1}}, {{0, 0}, {0, 0}, {0, 0}}, {{0, 0}, {1, 0}, {0, 1}}};
        QCOMPARE(mesh::freeUvSet(mesh), std::size_t(1));
        mesh.materials[0].baseColourImage = std::make_shared<mesh::EncodedImage>();
        mesh.materials[0].baseColourUvSet = 1; // a texture of one colour reads it
        QCOMPARE(mesh::freeUvSet(mesh), std::size_t(3));
    }
    void theCacheKeepsToItsLimit() {
        source::FrameCache cache(3 * 10 * sizeof(glm::vec3));
        std::atomic<int> loads{0};
        const auto load = [&](source::StoredFrame& frame) {
            ++loads;
            frame.positions.resize(10);
        };
        for (const std::size_t frame : {0, 1, 2, 0, 3}) { // 1 is the longest unused when 3 comes
            cache.get(frame, load);
        }
        QCOMPARE(loads.load(), 4);
        QCOMPARE(cache.bytes(), 3 * 10 * sizeof(glm::vec3));
        cache.get(0, load);
        QCOMPARE(loads.load(), 4);
        cache.get(1, load);
        QCOMPARE(loads.load(), 5);
        QVERIFY_EXCEPTION_THROWN(cache.get(9, [](source::StoredFrame&) { base::fail("f", "is bad", "x"); }),
                                 base::Failure);
        QCOMPARE(cache.bytes(), 3 * 10 * sizeof(glm::vec3)); // a failure leaves it as it was
    }
    void theCacheServesSeveralThreads() {
        source::FrameCache cache(5 * 100 * sizeof(glm::vec3));
        std::atomic<bool> wrong{false};
        const auto work = [&](std::size_t seed) {
            for (std::size_t i = 0; i < 4000; ++i) {
                const std::size_t frame = (i * seed + i / 7) % 9;
                const auto stored = cache.get(frame, [frame](source::StoredFrame& out) {
                    out.positions.resize(100);
                    std::fill(out.positions.begin(), out.positions.end(),
                              glm::vec3(static_cast<float>(frame)));
                });
                wrong = wrong || stored->positions[99].x != static_cast<float>(frame);
            }
        };
        std::thread other(work, 5);
        work(3);
        other.join();
        QVERIFY(!wrong);
        QVERIFY(cache.bytes() <= 5 * 100 * sizeof(glm::vec3));
    }
};

static const ripple::tests::SuiteOf<TestReading> kSuite;
#include "test_reading.moc"
