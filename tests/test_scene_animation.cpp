#include "source/scene_animation.h"
#include "suite.h"

#include <QTest>

#include <array>
#include <cmath>

using namespace ripple;
using source::ChannelPath;
using source::Interpolation;
using source::SceneChannel;

namespace {

SceneChannel channel(ChannelPath path, Interpolation interpolation, std::size_t width,
                     std::vector<double> times, std::vector<double> values) {
    SceneChannel c;
    c.path = path;
    c.interpolation = interpolation;
    c.width = width;
    c.times = std::move(times);
    c.values = std::move(values);
    return c;
}

std::array<double, 4> at(const SceneChannel& c, double seconds) {
    std::array<double, 4> out{};
    c.evaluate(seconds, std::span(out).first(c.width));
    return out;
}

const double kHalf = std::sqrt(0.5);

} // namespace

class TestSceneAnimation : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void stepHoldsUntilTheNextKey() {
        const auto c = channel(ChannelPath::translation, Interpolation::step, 3, {1, 2}, {5, 6, 7, 8, 9, 10});
        QCOMPARE(at(c, 0.0)[0], 5.0);
        QCOMPARE(at(c, 1.999)[0], 5.0);
        QCOMPARE(at(c, 2.0)[0], 8.0);
        QCOMPARE(at(c, 9.0)[2], 10.0);
    }
    void linearBetweenKeysAndClampedOutside() {
        const auto c = channel(ChannelPath::translation, Interpolation::linear, 3, {0, 2, 4},
                               {0, 0, 0, 4, 2, 0, 4, 2, 8});
        QCOMPARE(at(c, 0.5)[0], 1.0);
        QCOMPARE(at(c, 3.0)[2], 4.0);
        QCOMPARE(at(c, -1.0)[0], 0.0);
        QCOMPARE(at(c, 5.0)[2], 8.0);
    }
    void rotationsGoTheShortWayRound() {
        // Identity to 90° about Z, written with the other sign: half way is 45°, not 225°.
        const auto c = channel(ChannelPath::rotation, Interpolation::linear, 4, {0, 1},
                               {0, 0, 0, 1, 0, 0, -kHalf, -kHalf});
        const auto q = at(c, 0.5);
        QVERIFY(std::abs(std::abs(q[2]) - std::sin(M_PI / 8)) < 1e-12);
        QVERIFY(std::abs(std::abs(q[3]) - std::cos(M_PI / 8)) < 1e-12);
        QVERIFY(q[2] * q[3] > 0.0);
    }
    void slerpKeepsAnEvenPace() {
        const auto c = channel(ChannelPath::rotation, Interpolation::linear, 4, {0, 1},
                               {0, 0, 0, 1, 0, 0, kHalf, kHalf});
        // A third of 90° is 30°: a blended-and-normalised quaternion would give 28.9°.
        QVERIFY(std::abs(at(c, 1.0 / 3.0)[2] - std::sin(M_PI / 12)) < 1e-12);
    }
    void cubicSplineAsTheSpecificationsFormula() {
        // Keys hold in-tangent, value, out-tangent. Two keys 2 s apart.
        const auto c = channel(ChannelPath::translation, Interpolation::cubicSpline, 3, {0, 2},
                               {9, 9, 9, 1, 0, 0, 3, 0, 0, /**/ -1, 0, 0, 5, 0, 0, 9, 9, 9});
        // t = 0.25: p = 0.84375·1 + 2·0.140625·3 + 0.15625·5 + 2·(−0.046875)·(−1)
        QVERIFY(std::abs(at(c, 0.5)[0] - (0.84375 + 0.84375 + 0.78125 + 0.09375)) < 1e-12);
        QCOMPARE(at(c, 0.0)[0], 1.0);
        QCOMPARE(at(c, 2.0)[0], 5.0);
    }
    void cubicRotationsAreUnitLength() {
        const auto c = channel(ChannelPath::rotation, Interpolation::cubicSpline, 4, {0, 1},
                               {0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0});
        const auto q = at(c, 0.5);
        QVERIFY(std::abs(q[2] - kHalf) < 1e-12);
        QVERIFY(std::abs(q[3] - kHalf) < 1e-12);
    }
    void keyRatesAreThoseOfTheGridOfKeys_data() {
        QTest::addColumn<QList<double>>("times");
        QTest::addColumn<double>("rate");
        QTest::newRow("24 a second, some left out")
            << QList<double>{0.0, 1.0 / 24, 2.0 / 24, 9.0 / 24} << 24.0;
        QTest::newRow("as 32-bit floats")
            << QList<double>{0.0, static_cast<double>(1.0f / 30.0f), static_cast<double>(7.0f / 30.0f)}
            << 30.0;
        QTest::newRow("begins later") << QList<double>{2.0, 2.02, 2.1} << 50.0;
        QTest::newRow("poses, not frames") << QList<double>{0.0, 0.5, 1.0} << 0.0;
        QTest::newRow("off any grid") << QList<double>{0.0, 0.04, 0.095} << 0.0;
        QTest::newRow("one key") << QList<double>{0.0} << 0.0;
        QTest::newRow("absurdly close") << QList<double>{0.0, 0.0001, 0.0002} << 0.0;
    }
    void keyRatesAreThoseOfTheGridOfKeys() {
        QFETCH(QList<double>, times);
        QFETCH(double, rate);
        source::SceneAnimation animation;
        animation.start = times.front();
        animation.channels.push_back(channel(
            ChannelPath::scale, Interpolation::linear, 3, std::vector<double>(times.begin(), times.end()),
            std::vector<double>(3 * static_cast<std::size_t>(times.size()), 1.0)));
        QCOMPARE(source::keyRate(animation), rate);
    }
    void aTreeThatRunsInACircleIsAProblem() {
        std::vector<source::SceneNode> nodes(3);
        nodes[0].parent = 2;
        nodes[1].parent = 0;
        nodes[2].parent = 1;
        try {
            source::requireTree(nodes, "loop.dae");
            QFAIL("it was taken");
        } catch (const base::Failure& failure) {
            QVERIFY(failure.problem().line().find("own ancestor") != std::string::npos);
        }
    }
    void childrenFollowParents() {
        // The child comes first in the file, as files may have it.
        std::vector<source::SceneNode> nodes(2);
        nodes[0].parent = 1;
        nodes[0].translation = {1, 0, 0};
        nodes[1].rotation = glm::angleAxis(M_PI / 2, glm::dvec3(0, 0, 1));
        nodes[1].scale = {2, 2, 2};
        source::SceneAnimation animation;
        animation.channels.push_back(
            channel(ChannelPath::translation, Interpolation::linear, 3, {0, 1}, {1, 0, 0, 3, 0, 0}));
        const auto rest = source::evaluatePose(nodes, nullptr, 0.0);
        QVERIFY(glm::distance(glm::dvec3(rest.global[0][3]), glm::dvec3(0, 2, 0)) < 1e-12);
        const auto moved = source::evaluatePose(nodes, &animation, 0.5);
        QVERIFY(glm::distance(glm::dvec3(moved.global[0][3]), glm::dvec3(0, 4, 0)) < 1e-12);
    }
};

static const ripple::tests::SuiteOf<TestSceneAnimation> kSuite;
#include "test_scene_animation.moc"
