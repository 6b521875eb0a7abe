#include "bake/columns.h"
#include "bake/alpha.h"
#include "bake/quaternions.h"
#include "bake/store.h"
#include "base/lanes.h"
#include "problem_of.h"
#include "suite.h"

#include <QTest>

#include <cmath>
#include <cstring>
#include <random>

#include <glm/geometric.hpp>
#include <glm/vector_relational.hpp>
#include <Imath/half.h>

using namespace ripple;

class TestStores : public QObject {
    Q_OBJECT

    static std::vector<glm::vec3> randomIn(const bake::Range& range, std::size_t count, unsigned seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<float> unit(0.0f, 1.0f);
        std::vector<glm::vec3> values = {range.min, range.max};
        while (values.size() < count) {
            values.push_back(range.min +
                             glm::vec3(unit(random), unit(random), unit(random)) * (range.max - range.min));
            values.back() = glm::clamp(values.back(), range.min, range.max);
        }
        return values;
    }

    static void turnsByNoMoreThanItsBound(const bake::NormalStore& store, double atLeast) {
        std::mt19937 random(5);
        std::normal_distribution<float> gauss;
        std::vector<glm::vec3> normals = {{1, 0, 0}, {0, -1, 0}, {0, 0, 1}};
        while (normals.size() < 20000) {
            normals.push_back(glm::normalize(glm::vec3(gauss(random), gauss(random), gauss(random)) + 1e-9f));
        }
        std::vector<std::byte> texels(normals.size() * 3 * image::bytesPer(store.pixel));
        std::vector<glm::vec3> back(normals.size());
        store.encode(normals, texels.data());
        store.decode(texels.data(), back);
        double worst = 0.0;
        for (std::size_t i = 0; i < normals.size(); ++i) {
            const glm::dvec3 a(normals[i]);
            const glm::dvec3 b(back[i]);
            worst = std::max(worst, std::atan2(glm::length(glm::cross(a, b)), glm::dot(a, b)) * 180.0 / M_PI);
            QVERIFY(std::abs(glm::length(back[i]) - 1.0f) < 1e-5f);
        }
        QVERIFY2(worst <= static_cast<double>(store.errorBoundDegrees), qPrintable(QString::number(worst)));
        QVERIFY2(worst > atLeast, qPrintable(QString::number(worst)));
    }

private Q_SLOTS:
    void lanesChooseAndRoundAsNumbersDo() {
        const base::Lanes a = {1.5f, -2.5f, 0.0f, 7.0f};
        const base::Lanes b = {1.0f, 3.0f, -0.0f, 7.0f};
        for (std::size_t i = 0; i < base::kLanes; ++i) {
            QCOMPARE(base::least(a, b)[i], std::min(a[i], b[i]));
            QCOMPARE(base::most(a, b)[i], std::max(a[i], b[i]));
            QCOMPARE(base::absolute(a)[i], std::abs(a[i]));
            QCOMPARE(base::truncated(a)[i], std::trunc(a[i]));
            QCOMPARE(base::select(a < b, a, b)[i], a[i] < b[i] ? a[i] : b[i]);
        }
        float kept[base::kLanes];
        base::storeLanes(kept, a);
        QCOMPARE(base::loadLanes(kept)[3], 7.0f);
    }
    void everyStoreComesBackWithinItsBound() {
        std::mt19937 random(11);
        std::uniform_real_distribution<float> place(-1.0f, 1.0f);
        for (const bake::PositionStore& store : bake::positionStores()) {
            for (unsigned round = 0; round < 200; ++round) {
                // From a fingernail to a landscape, near the origin and far from it; sometimes a flat axis.
                const float scale = std::pow(10.0f, 3.0f * place(random));
                bake::Range range;
                const glm::vec3 a = glm::vec3(place(random), place(random), place(random)) * scale;
                const glm::vec3 b =
                    a +
                    glm::vec3(place(random), place(random), round % 5 == 0 ? 0.0f : place(random)) * scale;
                range.min = glm::min(a, b);
                range.max = glm::max(a, b);
                const auto values = randomIn(range, 101, round);
                const std::size_t size = values.size() * 3 * image::bytesPer(store.pixel);
                std::vector<std::byte> texels(size * store.planes);
                std::byte* planes[] = {texels.data(), texels.data() + (store.planes - 1) * size};
                std::vector<glm::vec3> back(values.size());
                store.encode(values, range, planes);
                store.decode(planes, range, back);
                const glm::vec3 bound = store.errorBound(range);
                for (std::size_t i = 0; i < values.size(); ++i) {
                    const glm::vec3 off = glm::abs(back[i] - values[i]);
                    QVERIFY2(glm::all(glm::lessThanEqual(off, bound)),
                             qPrintable(QString("%1: off by %2 %3 %4, bound %5 %6 %7")
                                            .arg(store.name)
                                            .arg(off.x)
                                            .arg(off.y)
                                            .arg(off.z)
                                            .arg(bound.x)
                                            .arg(bound.y)
                                            .arg(bound.z)));
                }
            }
        }
    }
    void unorm16BoundIsHalfAStep() {
        const bake::Range range{{-1, 0, 0}, {1, 0.5f, 0}};
        const glm::vec3 bound = bake::positionStore("unorm16").errorBound(range);
        QVERIFY(std::abs(bound.x - 1.0f / 65535.0f) < 1e-6f);
        QVERIFY(bound.y < 0.26f / 65535.0f + 1e-6f);
    }
    void unorm16HitsItsEndsAndRoundsToNearest() {
        const bake::Range range{{0, 0, 0}, {65535, 65535, 65535}};
        const std::vector<glm::vec3> values = {{0, 65535, 100.4f}, {100.6f, 32767.5f, -5}};
        std::uint16_t texels[6];
        auto* plane = reinterpret_cast<std::byte*>(texels);
        bake::positionStore("unorm16").encode(values, range, &plane);
        QCOMPARE(texels[0], std::uint16_t(0));
        QCOMPARE(texels[1], std::uint16_t(65535));
        QCOMPARE(texels[2], std::uint16_t(100));
        QCOMPARE(texels[3], std::uint16_t(101));
        QCOMPARE(texels[4], std::uint16_t(32768));
        QCOMPARE(texels[5], std::uint16_t(0));
    }
    void halfAgreesWithTheImageLibraryForEveryPattern() {
        // All finite halves, and the floats half way between neighbours (ties go to even).
        std::vector<float> values;
        for (unsigned bits = 0; bits < 0x7C00; ++bits) {
            Imath::half h;
            h.setBits(static_cast<unsigned short>(bits));
            Imath::half next;
            next.setBits(static_cast<unsigned short>(bits + 1));
            values.push_back(static_cast<float>(h));
            values.push_back(-static_cast<float>(h));
            if (bits + 1 < 0x7C00) {
                values.push_back(0.5f * (static_cast<float>(h) + static_cast<float>(next)));
            }
        }
        values.resize(values.size() / 3 * 3);
        std::vector<Imath::half> texels(values.size());
        const bake::PositionStore& store = bake::positionStore("half");
        auto* plane = reinterpret_cast<std::byte*>(texels.data());
        store.encode({reinterpret_cast<const glm::vec3*>(values.data()), values.size() / 3}, {}, &plane);
        std::vector<glm::vec3> back(values.size() / 3);
        store.decode(&plane, {}, back);
        const auto* flat = reinterpret_cast<const float*>(back.data());
        for (std::size_t i = 0; i < values.size(); ++i) {
            QCOMPARE(texels[i].bits(), Imath::half(values[i]).bits());
            QCOMPARE(flat[i], static_cast<float>(Imath::half(values[i])));
        }
    }
    void normalsTurnByNoMoreThanTheirBound_data() {
        QTest::addColumn<QString>("store");
        QTest::addColumn<double>("atLeast"); // the bound is not idle
        QTest::addRow("unorm8") << "unorm8" << 0.3;
        QTest::addRow("oct16") << "oct16" << 0.55;
        QTest::addRow("oct32") << "oct32" << 0.003;
    }
    void normalsTurnByNoMoreThanTheirBound() {
        QFETCH(QString, store);
        QFETCH(double, atLeast);
        turnsByNoMoreThanItsBound(bake::normalStore(store.toStdString()), atLeast);
    }
    void octahedralTakesTheCornersAndFolds() {
        // Axes, edges of the octahedron, and directions on either side of its fold.
        for (const char* name : {"oct16", "oct32"}) {
            const bake::NormalStore& store = bake::normalStore(name);
            for (glm::vec3 n : {glm::vec3(0, 0, 1), glm::vec3(0, 0, -1), glm::vec3(-1, 0, 0),
                                glm::vec3(0, 1, 0), glm::vec3(1, 1, 0), glm::vec3(-1, 1, 1e-6f),
                                glm::vec3(1, -1, -1e-6f), glm::vec3(-1, -1, -1)}) {
                n = glm::normalize(n);
                std::byte texel[6] = {};
                glm::vec3 back;
                store.encode({&n, 1}, texel);
                store.decode(texel, {&back, 1});
                QVERIFY(glm::distance(n, back) < 0.012f);
            }
            const glm::vec3 none(0.0f);
            std::byte texel[6] = {};
            glm::vec3 back;
            store.encode({&none, 1}, texel);
            store.decode(texel, {&back, 1});
            QVERIFY(std::abs(glm::length(back) - 1.0f) < 1e-5f); // no direction reads as some direction
        }
    }
    void twoBytesAreThe16BitsOfTheRange() {
        const bake::Range range{{-1, 0, 5}, {1, 0.25f, 5}};
        const auto values = randomIn(range, 700, 4);
        std::vector<std::uint16_t> whole(values.size() * 3);
        auto* one = reinterpret_cast<std::byte*>(whole.data());
        bake::positionStore("unorm16").encode(values, range, &one);
        std::vector<std::byte> high(values.size() * 3), low(values.size() * 3);
        std::byte* planes[] = {high.data(), low.data()};
        bake::positionStore("unorm8x2").encode(values, range, planes);
        for (std::size_t i = 0; i < whole.size(); ++i) {
            QCOMPARE(std::to_integer<int>(high[i]) * 256 + std::to_integer<int>(low[i]), int(whole[i]));
        }
    }
    void alphaHoldsTheNormalAndLeavesThePosition() {
        std::mt19937 random(3);
        for (const bake::PositionStore& store : bake::positionStores()) {
            if (!store.holdsNormals()) {
                QCOMPARE(std::string(store.name), std::string("half")); // the only one with too few bits
                continue;
            }
            const std::size_t count = 300;
            const std::size_t size = count * 3 * image::bytesPer(store.pixel);
            std::vector<std::byte> apart(size * 2), back(size * 2), joined(size * 4), oct(count * 3),
                octBack(count * 3);
            for (std::byte& b : apart) {
                b = static_cast<std::byte>(random());
            }
            for (std::size_t i = 0; i < oct.size(); ++i) {
                oct[i] = i % 3 == 2 ? std::byte{0} : static_cast<std::byte>(random());
            }
            const std::byte* from[] = {apart.data(), apart.data() + size};
            std::byte* four[] = {joined.data(), joined.data() + 2 * size};
            std::byte* to[] = {back.data(), back.data() + size};
            bake::joinAlpha(store, count, from, oct.data(), four);
            bake::splitAlpha(store, count, four, to, octBack.data());
            QVERIFY(std::equal(apart.begin(),
                               apart.begin() + static_cast<std::ptrdiff_t>(size * store.planes),
                               back.begin()));
            QVERIFY(oct == octBack);
        }
    }
    void turnsOfPiecesComeBack() {
        std::mt19937 random(8);
        std::normal_distribution<float> gauss;
        for (const bake::PositionStore& store : bake::positionStores()) {
            for (const std::size_t count : {1u, 2u, 3u, 100u}) { // whole triples of numbers and parts of them
                std::vector<glm::vec4> turns, back(count);
                while (turns.size() < count) {
                    turns.push_back(glm::normalize(
                        glm::vec4(gauss(random), gauss(random), gauss(random), gauss(random))));
                }
                std::vector<std::byte> high(count * 16), low(count * 16);
                std::byte* planes[] = {high.data(), low.data()};
                bake::encodeQuaternions(store, turns, planes);
                bake::decodeQuaternions(store, planes, back);
                const float bound = 2.0f * store.errorBound({glm::vec3(-1), glm::vec3(1)}).x + 1e-6f;
                for (std::size_t i = 0; i < count; ++i) {
                    QVERIFY(glm::distance(turns[i], back[i]) <= bound);
                }
            }
        }
    }
    void sharingAgreesWithComparingAllPairs() {
        std::mt19937 random(9);
        for (int round = 0; round < 30; ++round) {
            // Few values, so that many vertices are alike in some frames and some in all.
            bake::Texels texels{40, 3, 2, {}};
            for (int i = 0; i < 40 * 3; ++i) {
                const auto value = static_cast<std::byte>(random() % 3);
                texels.data.push_back(value);
                texels.data.push_back(value);
            }
            const bake::Texels* one[] = {&texels};
            const bake::Columns columns = bake::shareColumns(one);
            const auto alike = [&](std::size_t a, std::size_t b) {
                for (std::size_t f = 0; f < 3; ++f) {
                    if (std::memcmp(texels.at(f, a), texels.at(f, b), 2) != 0) {
                        return false;
                    }
                }
                return true;
            };
            for (std::size_t a = 0; a < 40; ++a) {
                for (std::size_t b = 0; b < 40; ++b) {
                    QCOMPARE(columns.ofVertex[a] == columns.ofVertex[b], alike(a, b));
                }
                QVERIFY(alike(columns.first[columns.ofVertex[a]], a));
            }
        }
    }
    /// All vertices rest in the frames that are looked at first; half of them differ in a frame between
    /// those. Compared in pairs it would take many minutes.
    void whatRestsInMostFramesIsSharedAtOnce() {
        constexpr std::size_t kVertices = 200000;
        bake::Texels texels{kVertices, 12, 4, {}};
        texels.data.assign(kVertices * texels.frames * 4, std::byte{7});
        for (std::size_t v = 0; v < kVertices / 2; ++v) {
            const auto number = static_cast<std::uint32_t>(v);
            std::memcpy(texels.data.data() + (3 * kVertices + v) * 4, &number, 4);
        }
        const bake::Texels* one[] = {&texels};
        const bake::Columns columns = bake::shareColumns(one);
        QCOMPARE(columns.count(), kVertices / 2 + 1);
        for (std::size_t v = 0; v < kVertices; ++v) {
            QCOMPARE(columns.ofVertex[v], static_cast<std::uint32_t>(std::min(v, kVertices / 2)));
        }
        base::Progress stopped;
        stopped.cancel();
        QVERIFY_EXCEPTION_THROWN(bake::shareColumns(one, stopped), base::Cancelled);
    }
    void unknownStoresListTheKnown() {
        QVERIFY(tests::says(tests::problemOf([] { bake::positionStore("bc7"); }), "bc7",
                            "float32, half, unorm16"));
        QVERIFY(tests::says(tests::problemOf([] { bake::normalStore("x"); }), "unorm8, oct16, oct32, none"));
    }
    void columnsAreSharedByEqualVerticesOnly() {
        // Vertices 0 and 2 agree in both frames and both textures, 1 and 3 in one texture only.
        bake::Texels a{4, 2, 2, {}};
        bake::Texels b{4, 2, 1, {}};
        const auto bytes = [](std::initializer_list<int> values) {
            base::RawVector<std::byte> out;
            for (const int v : values) {
                out.push_back(static_cast<std::byte>(v));
            }
            return out;
        };
        a.data = bytes({1, 1, 2, 2, 1, 1, 2, 2, /**/ 5, 5, 6, 6, 5, 5, 6, 6});
        b.data = bytes({7, 8, 7, 9, /**/ 7, 7, 7, 7});
        const bake::Texels* both[] = {&a, &b};
        const bake::Columns columns = bake::shareColumns(both);
        QCOMPARE(columns.ofVertex, (std::vector<std::uint32_t>{0, 1, 0, 2}));
        QCOMPARE(columns.first, (std::vector<std::uint32_t>{0, 1, 3}));
        const bake::Texels* first[] = {&a};
        QCOMPARE(bake::shareColumns(first).count(), std::size_t(2));
    }
};

static const ripple::tests::SuiteOf<TestStores> kSuite;
#include "test_stores.moc"
