#include "base/parallel.h"
#include "inspect/gram.h"
#include "inspect/likeness.h"

#include <QTest>

#include <cmath>
#include <random>

#include <glm/geometric.hpp>

using namespace ripple;

namespace {

/// A walk that never comes near where it was, but for frame `b`, which is put right at frame `a`, together
/// with its neighbours so that the velocity agrees too.
inspect::PoseTable plantedLoop(std::size_t frames, std::size_t vertices, std::size_t a, std::size_t b) {
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
    for (std::size_t k = 0; k < 2; ++k) {
        for (std::size_t v = 0; v < vertices; ++v) {
            table.points[(b + k) * vertices + v] = table.points[(a + k) * vertices + v];
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
        const inspect::PoseTable table = plantedLoop(30, 11, 4, 21);
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
        QVERIFY(likeness.poseAt(4, 21) < 1e-4f);
    }
    void aPlantedLoopIsFoundToTheFrame() {
        const inspect::Likeness likeness = inspect::measureLikeness(plantedLoop(600, 60, 137, 462));
        const auto best = inspect::bestWindows(likeness, {});
        QVERIFY(!best.empty());
        QCOMPARE(best[0].first, std::size_t(137));
        QCOMPARE(best[0].last, std::size_t(461)); // frame 462 is frame 137: it is not kept
        QVERIFY(best[0].unlikeness < 1e-3f);
    }
    void windowsOfAWantedLengthComeFirst() {
        const inspect::Likeness likeness = inspect::measureLikeness(plantedLoop(200, 20, 30, 150));
        inspect::WindowWish wish;
        wish.length = 60;
        const auto windows = inspect::bestWindows(likeness, wish);
        QVERIFY(!windows.empty());
        QCOMPARE(windows[0].frames(), std::size_t(60));
        for (const inspect::LoopWindow& window : windows) {
            QVERIFY(window.frames() >= 54 && window.frames() <= 66);
        }
        wish.length = 120; // just the planted one
        QCOMPARE(inspect::bestWindows(likeness, wish)[0].first, std::size_t(30));
    }
    void theThreadCountDoesNotMatter() {
        const inspect::PoseTable table = plantedLoop(120, 333, 10, 90);
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

QTEST_GUILESS_MAIN(TestLikeness)
#include "test_likeness.moc"
