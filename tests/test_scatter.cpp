// Copies: what they differ in, where they stand, and the file that holds them.

#include "problem_of.h"
#include "mesh/bounds.h"
#include "mesh/test_shapes.h"
#include "scatter/copies_file.h"
#include "scatter/even.h"
#include "scatter/placement.h"
#include "suite.h"

#include <QTest>

#include <cmath>
#include <cstring>
#include <map>
#include <set>

#include <glm/geometric.hpp>
#include <nlohmann/json.hpp>

using namespace ripple;
using namespace ripple::scatter;

namespace {

float leastDistance(const std::vector<glm::vec3>& places, const glm::vec3& size) {
    float least = 1e9f;
    for (std::size_t i = 0; i < places.size(); ++i) {
        for (std::size_t j = 0; j < i; ++j) {
            least = std::min(least, glm::distance(places[i] * size, places[j] * size));
        }
    }
    return least;
}

std::vector<Copy> placed(const Placement& placement, const Differences& differences = {}) {
    return placeCopies(placement, differences, *flatGround());
}

} // namespace

class TestScatter : public QObject {
    Q_OBJECT
private Q_SLOTS:
    /// However thin: a volume that is nearly a sheet, or a line, is spread as one.
    void thinVolumesAreSpreadEvenly_data() {
        QTest::addColumn<float>("x");
        QTest::addColumn<float>("y");
        QTest::addColumn<float>("z");
        QTest::addColumn<double>("evenly"); // the farthest apart that all could be
        const double sheet = 2.0 * std::sqrt(100.0 / (2.0 * std::sqrt(3.0) * 400.0));
        QTest::newRow("a sheet") << 10.0f << 0.0f << 10.0f << sheet;
        QTest::newRow("low") << 10.0f << 0.001f << 10.0f << sheet;
        QTest::newRow("upright") << 10.0f << 10.0f << 0.001f << sheet;
        QTest::newRow("sideways") << 0.001f << 10.0f << 10.0f << sheet;
        QTest::newRow("a line") << 0.001f << 0.001f << 10.0f << 10.0 / 400.0;
        QTest::newRow("a cube") << 10.0f << 10.0f << 10.0f
                                << 2.0 * std::cbrt(1000.0 / (4.0 * std::sqrt(2.0) * 400.0));
    }
    void thinVolumesAreSpreadEvenly() {
        QFETCH(float, x);
        QFETCH(float, y);
        QFETCH(float, z);
        QFETCH(double, evenly);
        const std::vector<glm::vec3> places = scatter::spreadEvenly(400, {x, y, z}, 1);
        QCOMPARE(places.size(), std::size_t(400));
        float nearest = 1e9f;
        for (std::size_t a = 0; a < places.size(); ++a) {
            for (std::size_t b = 0; b < a; ++b) {
                const glm::vec3 apart =
                    (places[a] - places[b]) * glm::vec3(x, y, z); // places are parts of the size
                nearest = std::min(nearest, glm::length(apart));
            }
        }
        QVERIFY2(static_cast<double>(nearest) > 0.5 * evenly,
                 qPrintable(QString("%1 of %2").arg(static_cast<double>(nearest)).arg(evenly)));
    }
    void differencesAreHashesOfSeedAndIndex() {
        Differences all;
        all.seed = 7;
        all.leastSize = 0.8f;
        all.mostSize = 1.3f;
        all.rateSpread = 0.2f;
        all.clipWeights = {3.0f, 0.0f, 1.0f};
        std::map<int, int> clips;
        double sizes = 0.0;
        constexpr int kMany = 20000;
        for (std::uint32_t i = 0; i < kMany; ++i) {
            const Difference own = differenceOf(all, i);
            QVERIFY(own == differenceOf(all, i));
            QVERIFY(own.size >= 0.8f && own.size <= 1.3f);
            QVERIFY(own.rate >= 0.8f && own.rate <= 1.2f);
            QVERIFY(own.start >= 0.0f && own.start < 1.0f);
            ++clips[own.clip];
            sizes += static_cast<double>(own.size);
        }
        QVERIFY(std::abs(sizes / kMany - 1.05) < 0.005);
        QCOMPARE(clips[1], 0); // of no weight
        QVERIFY(std::abs(clips[0] - 0.75 * kMany) < 0.02 * kMany);
        QCOMPARE(clips[0] + clips[2], kMany);
        Differences other = all;
        other.seed = 8;
        QVERIFY(differenceOf(other, 3).start != differenceOf(all, 3).start);
        // The numbers are part of the format: another hash would be another crowd in a shipped level.
        QCOMPARE(hashed(1, 0, Purpose::clip), static_cast<float>(0x6D5237u) / 16777216.0f);
    }
    void withoutSpreadAllPlayInUnison() {
        Differences none;
        none.turnSpread = none.startSpread = 0.0f;
        for (std::uint32_t i = 0; i < 50; ++i) {
            const Difference own = differenceOf(none, i);
            QCOMPARE(own.start, 0.0f);
            QCOMPARE(own.turn, 0.0f);
            QCOMPARE(own.rate, 1.0f);
            QCOMPARE(own.size, 1.0f);
            QCOMPARE(own.clip, 0);
        }
    }
    void evenMeansFarApart() {
        for (const auto& [count, size] : {std::pair<std::size_t, glm::vec3>{400, {10.0f, 0.0f, 4.0f}},
                                          std::pair<std::size_t, glm::vec3>{300, {4.0f, 4.0f, 4.0f}}}) {
            const std::vector<glm::vec3> places = spreadEvenly(count, size, 3);
            QCOMPARE(places.size(), count);
            for (const glm::vec3& place : places) {
                QVERIFY(std::abs(place.x) <= 0.5f && std::abs(place.y) <= 0.5f && std::abs(place.z) <= 0.5f);
            }
            // Of as many at random the nearest two would lie within a few hundredths of what dense packing
            // allows.
            const float packed = size.y > 0.0f
                                     ? 2.0f * std::cbrt(size.x * size.y * size.z /
                                                        (4.0f * std::sqrt(2.0f) * static_cast<float>(count)))
                                     : 2.0f * std::sqrt(size.x * size.z /
                                                        (2.0f * std::sqrt(3.0f) * static_cast<float>(count)));
            QVERIFY2(leastDistance(places, size) > 0.55f * packed,
                     qPrintable(QString::number(static_cast<double>(leastDistance(places, size) / packed))));
            QVERIFY(spreadEvenly(count, size, 3) == places);
            QVERIFY(spreadEvenly(count, size, 4) != places);
        }
        QCOMPARE(spreadEvenly(1, {1.0f, 0.0f, 1.0f}, 1).size(), std::size_t(1));
        QCOMPARE(spreadEvenly(20000, {100.0f, 0.0f, 100.0f}, 1).size(), std::size_t(20000));
        // Too small for any distance: as many places all the same.
        QCOMPARE(spreadEvenly(50, {1e-20f, 1e-20f, 1e-20f}, 1).size(), std::size_t(50));
    }
    void patternsLieWhereTheySay() {
        Placement placement;
        placement.count = 12;
        placement.size = {8.0f, 3.0f, 6.0f};
        const auto grid = placed(placement);
        QCOMPARE(grid.size(), std::size_t(12));
        const auto near = [](const glm::vec3& a, const glm::vec3& b) { return glm::distance(a, b) < 1e-5f; };
        QVERIFY(near(grid[0].origin, {-3.0f, 0.0f, -2.0f})); // four across, three deep
        QVERIFY(near(grid[1].origin, {-1.0f, 0.0f, -2.0f}));
        QVERIFY(near(grid[4].origin, {-3.0f, 0.0f, 0.0f}));
        placement.pattern = "ring";
        for (const Copy& copy : placed(placement)) {
            const glm::vec2 part(copy.origin.x / 4.0f, copy.origin.z / 3.0f);
            QVERIFY(std::abs(glm::length(part) - 1.0f) < 1e-6f);
        }
        placement.pattern = "line";
        const auto line = placed(placement);
        QCOMPARE(line.front().origin, glm::vec3(-4.0f, 0.0f, 0.0f));
        QCOMPARE(line.back().origin, glm::vec3(4.0f, 0.0f, 0.0f));
        placement.pattern = "volume";
        float highest = 0.0f;
        for (const Copy& copy : placed(placement)) {
            QVERIFY(copy.origin.y >= 0.0f && copy.origin.y <= 3.0f);
            highest = std::max(highest, copy.origin.y);
        }
        QVERIFY(highest > 1.0f);
        for (const Pattern& row : patterns()) {
            placement.pattern = row.id;
            for (const std::size_t count : {std::size_t(1), std::size_t(7), std::size_t(5000)}) {
                placement.count = count;
                QCOMPARE(placed(placement).size(), count);
            }
        }
    }
    void copiesTurnAboutTheirUpDirection() {
        Placement placement;
        placement.count = 40;
        placement.pattern = "even";
        placement.alongSurface = true;
        const auto ground = unevenGround();
        std::size_t slanted = 0;
        for (const Copy& copy : placeCopies(placement, {}, *ground)) {
            const Spot spot = *ground->below({copy.origin.x, copy.origin.z});
            QCOMPARE(copy.origin, spot.position);
            const glm::vec3 up = copy.rotation * glm::vec3(0.0f, 1.0f, 0.0f);
            QVERIFY(glm::distance(up, spot.normal) < 1e-5f);
            slanted += up.y < 0.999f ? 1 : 0;
        }
        QVERIFY(slanted > 20);
        placement.alongSurface = false;
        for (const Copy& copy : placeCopies(placement, {}, *ground)) {
            QVERIFY(glm::distance(copy.rotation * glm::vec3(0.0f, 1.0f, 0.0f), glm::vec3(0.0f, 1.0f, 0.0f)) <
                    1e-6f);
        }
    }
    void groundsHaveHeightsAndNormals() {
        const auto uneven = unevenGround(0.5f, 8.0f);
        float low = 1e9f;
        float high = -1e9f;
        for (int i = 0; i < 400; ++i) {
            const glm::vec2 at(0.37f * static_cast<float>(i), -0.61f * static_cast<float>(i));
            const Spot spot = *uneven->below(at);
            low = std::min(low, spot.position.y);
            high = std::max(high, spot.position.y);
            constexpr float kStep = 1e-2f;
            const auto height = [&](float x, float z) {
                return uneven->below(at + glm::vec2(x, z))->position.y;
            };
            const glm::vec3 across(2.0f * kStep, height(kStep, 0.0f) - height(-kStep, 0.0f), 0.0f);
            const glm::vec3 along(0.0f, height(0.0f, kStep) - height(0.0f, -kStep), 2.0f * kStep);
            QVERIFY(glm::distance(glm::normalize(glm::cross(along, across)), spot.normal) < 2e-3f);
        }
        QVERIFY(high - low > 0.5f && high - low < 1.1f);

        mesh::Mesh slope = mesh::makeTestShape({"sheet", 4.0, 5, 5});
        mesh::Bounds bounds;
        for (glm::vec3& p : slope.positions) {
            p = {p.x, 0.25f * p.x + 1.0f, p.z != 0.0f ? p.z : p.y};
            bounds.add({&p, 1});
        }
        const auto ground = meshGround(slope);
        const glm::vec3 middle = bounds.centre();
        const Spot spot = *ground->below({middle.x + 0.3f, middle.z - 0.2f});
        QVERIFY(std::abs(spot.position.y - (0.25f * (middle.x + 0.3f) + 1.0f)) < 1e-5f);
        QVERIFY(glm::distance(spot.normal, glm::normalize(glm::vec3(-0.25f, 1.0f, 0.0f))) < 1e-5f);
        QVERIFY(!ground->below({bounds.max.x + 1.0f, middle.z}));
        // Copies beside it are left out; the others stand on it.
        Placement placement;
        placement.count = 400;
        placement.size = {20.0f, 1.0f, 20.0f};
        const auto copies = placeCopies(placement, {}, *ground);
        QVERIFY(copies.size() > 4 && copies.size() < 60);
    }
    void whatCanNotBeIsSaid() {
        Placement placement;
        placement.count = 0;
        QVERIFY(tests::says(tests::problemOf([&] { placed(placement); }), "1 to 20 000"));
        placement.count = 20001;
        QVERIFY(tests::says(tests::problemOf([&] { placed(placement); }), "1 to 20 000"));
        placement.count = 5;
        placement.size.x = 0.0f;
        QVERIFY(tests::says(tests::problemOf([&] { placed(placement); }), "no size"));
        placement.size.x = 5.0f;
        placement.pattern = "spiral";
        QVERIFY(tests::says(tests::problemOf([&] { placed(placement); }), "grid"));
        mesh::Mesh wall = mesh::makeTestShape({"sheet", 1.0, 2, 2});
        for (glm::vec3& p : wall.positions) {
            p.z = 0.0f;
            p.x = p.y != 0.0f ? p.x : p.x;
        }
        const bool standing =
            std::ranges::all_of(wall.positions, [](const glm::vec3& p) { return p.z == 0.0f; });
        QVERIFY(standing);
        QVERIFY(tests::says(tests::problemOf([&] { meshGround(wall); }), "no area"));
        mesh::Mesh far = mesh::makeTestShape({"sheet", 1.0, 2, 2});
        for (glm::vec3& p : far.positions) {
            p = {p.x + 100.0f, 0.0f, p.z != 0.0f ? p.z : p.y};
        }
        const auto ground = meshGround(far);
        placement.pattern = "grid";
        QVERIFY(tests::says(tests::problemOf([&] { placeCopies(placement, {}, *ground); }), "beside all"));
    }
    void theFileHoldsEveryCopy() {
        const mesh::Mesh mesh = mesh::makeTestShape({"sheet", 1.0, 2, 2});
        Placement placement;
        placement.count = 9;
        Differences differences;
        differences.clipWeights = {1.0f, 1.0f};
        differences.leastSize = 0.5f;
        const auto copies = placed(placement, differences);
        const base::Bytes bytes = copiesGlb(mesh, "reeds", copies);
        std::uint32_t length = 0;
        std::memcpy(&length, bytes.data() + 12, 4);
        const auto json =
            nlohmann::json::parse(std::string(reinterpret_cast<const char*>(bytes.data()) + 20, length));
        QCOMPARE(json["extensionsUsed"][0].get<std::string>(), std::string("EXT_mesh_gpu_instancing"));
        const auto& attributes = json["nodes"][0]["extensions"]["EXT_mesh_gpu_instancing"]["attributes"];
        QCOMPARE(attributes.size(), std::size_t(8));
        const auto numbers = [&](const char* attribute, std::size_t width) {
            const auto& accessor = json["accessors"][attributes[attribute].get<std::size_t>()];
            const auto& view = json["bufferViews"][accessor["bufferView"].get<std::size_t>()];
            std::vector<float> values(accessor["count"].get<std::size_t>() * width);
            std::memcpy(values.data(), bytes.data() + 20 + length + 8 + view["byteOffset"].get<std::size_t>(),
                        values.size() * sizeof(float));
            return values;
        };
        const auto places = numbers("TRANSLATION", 3);
        const auto turns = numbers("ROTATION", 4);
        const auto sizes = numbers("SCALE", 3);
        const auto clips = numbers("_CLIP", 1);
        QCOMPARE(places.size(), std::size_t(27));
        for (std::size_t i = 0; i < 9; ++i) {
            QCOMPARE(places[3 * i], copies[i].origin.x);
            QCOMPARE(turns[4 * i + 3], copies[i].rotation.w);
            QCOMPARE(sizes[3 * i + 2], copies[i].own.size);
            QCOMPARE(clips[i], static_cast<float>(copies[i].own.clip));
        }
    }
};

static const ripple::tests::SuiteOf<TestScatter> kSuite;
#include "test_scatter.moc"
