#include "base/parallel.h"
#include "inspect/gram.h"
#include "inspect/likeness.h"
#include "suite.h"

#include <QTest>

#include <cmath>
#include <random>

#include <glm/geometric.hpp>

using namespace ripple;

namespace {

/// A walk that never comes near where it was.
inspect::PoseTable wandering(std::size_t frames, std::size_t vertices) {
    inspect::PoseTable table;
    table.frames = frames;
    table.vertices = vertices;
    table.points.resize(frames * vertices);
    std::mt19937 random(7);
    std::normal_distribution<float> step(0.0f, 0.02f);
    std::vector<glm::vec3> drift(vertices, glm::vec3(0.0f));
    for (std::size_t f = 0; f < frames; ++f) {
        for (std::size_t v = 0; v < vertices; ++v) {
            drift[v] += glm::vec3(step(random), step(random), step(random));
            table.points[f * vertices + v] = drift[v] + glm::vec3(0.05f * static_cast<float>(f), 0.0f, 0.0f);
        }
    }
    return table;
}

} // namespace

class TestLikeness : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void gramMatrixAgreesWithPlainSums_data() {
        QTest::addColumn<int>("rows");
        QTest::addColumn<int>("length");
        QTest::newRow("less than a tile") << 5 << 7;
        QTest::newRow("a tail of three") << 50 << 1027;
        QTest::newRow("several tiles") << 101 << 3000;
        QTest::newRow("one row") << 1 << 9;
    }
    void gramMatrixAgreesWithPlainSums() {
        QFETCH(int, rows);
        QFETCH(int, length);
        const auto n = static_cast<std::size_t>(rows);
        const auto m = static_cast<std::size_t>(length);
        std::mt19937 random(3);
        std::uniform_real_distribution<float> unit(-1.0f, 1.0f);
        std::vector<float> x(n * m);
        for (float& value : x) {
            value = unit(random);
        }
        const std::vector<double> gram = inspect::gramMatrix(x.data(), n, m);
        for (std::size_t i = 0; i < n; ++i) {
            for (std::size_t j = 0; j < n; ++j) {
                double sum = 0.0;
                for (std::size_t k = 0; k < m; ++k) {
                    sum += static_cast<double>(x[i * m + k]) * static_cast<double>(x[j * m + k]);
                }
                QVERIFY(std::abs(gram[i * n + j] - sum) < 1e-5 * static_cast<double>(m));
            }
        }
    }
    void distancesAreThoseOfTheDefinition() {
        const inspect::PoseTable table = wandering(30, 11);
        const inspect::Likeness likeness = inspect::measureLikeness(table);
        const auto rms = [&](auto&& difference) {
            double sum = 0.0;
            for (std::size_t v = 0; v < table.vertices; ++v) {
                const glm::vec3 d = difference(v);
                sum += static_cast<double>(glm::dot(d, d));
            }
            return std::sqrt(sum / static_cast<double>(table.vertices));
        };
        for (const auto& [i, j] : {std::pair<std::size_t, std::size_t>{2, 17}, {9, 10}, {0, 28}}) {
            const double pose =
                rms([&, i = i, j = j](std::size_t v) { return table.of(i)[v] - table.of(j)[v]; });
            const double velocity = rms([&, i = i, j = j](std::size_t v) {
                return (table.of(i + 1)[v] - table.of(i)[v]) - (table.of(j + 1)[v] - table.of(j)[v]);
            });
            QVERIFY(std::abs(static_cast<double>(likeness.poseAt(i, j)) - pose) < 1e-5);
            QVERIFY(std::abs(static_cast<double>(likeness.velocityAt(i, j)) - velocity) < 1e-5);
            QCOMPARE(likeness.poseAt(i, j), likeness.poseAt(j, i));
        }
        QCOMPARE(likeness.poseAt(8, 8), 0.0f);
    }
    void seamsAreAsRoughAsTheirDefinition() {
        const inspect::PoseTable table = wandering(40, 11);
        const inspect::Likeness likeness = inspect::measureLikeness(table);
        for (const auto& [a, b] : {std::pair<std::size_t, std::size_t>{0, 39}, {3, 21}, {30, 35}}) {
            double sum = 0.0;
            for (std::size_t v = 0; v < table.vertices; ++v) {
                const auto x = [&](std::size_t f) { return glm::dvec3(table.of(f)[v]); };
                // The step over the seam less the mean of those beside it, and half of what its change is
                // beyond the changes on either side.
                const glm::dvec3 seam = x(a) - x(b);
                const glm::dvec3 before = x(b) - x(b - 1);
                const glm::dvec3 after = x(a + 1) - x(a);
                const glm::dvec3 place = seam - 0.5 * (before + after);
                const glm::dvec3 velocity = 0.5 * ((after - before) - (before - (x(b - 1) - x(b - 2))) -
                                                   ((x(a + 2) - x(a + 1)) - after));
                sum += glm::dot(place, place) + glm::dot(velocity, velocity);
            }
            const double rms = std::sqrt(sum / static_cast<double>(table.vertices));
            QVERIFY(std::abs(static_cast<double>(likeness.roughnessAt(a, b)) - rms) < 1e-5);
        }
        QCOMPARE(likeness.roughnessAt(3, 7), 0.0f); // too short to be a window
    }
    void ofSeamsAsSmoothAsTheMotionTheLongerWindowIsBetter() {
        const inspect::LoopWindow brief{0, 29, 0.001f};
        const inspect::LoopWindow lengthy{0, 59, 0.002f};
        QVERIFY(inspect::loopsBetter(lengthy, brief, 0.0021)); // both as smooth as the motion itself
        QVERIFY(inspect::loopsBetter(brief, lengthy, 0.0015));
        QVERIFY(inspect::loopsBetter({4, 33, 0.001f}, {5, 34, 0.001f}, 0.0));
    }
    void theThreadCountDoesNotMatter() {
        const inspect::PoseTable table = wandering(120, 333);
        const inspect::Likeness many = inspect::measureLikeness(table);
        const base::ThreadLimit one(1);
        QVERIFY(inspect::measureLikeness(table).pose == many.pose);
        QVERIFY(inspect::measureLikeness(table).velocity == many.velocity);
    }
    void fewFramesHaveNoWindows() {
        inspect::PoseTable table;
        table.frames = 1;
        table.vertices = 2;
        table.points.resize(2);
        QVERIFY(inspect::bestWindows(inspect::measureLikeness(table), {}).empty());
    }
};

static const ripple::tests::SuiteOf<TestLikeness> kSuite;
#include "test_likeness.moc"
