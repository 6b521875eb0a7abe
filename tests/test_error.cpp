#include "analytic_source.h"
#include "bake/bake.h"
#include "bake/error.h"
#include "base/parallel.h"
#include "suite.h"

#include <QTest>

using namespace ripple;
using tests::AnalyticSource;

namespace {

struct Measured {
    bake::SamplePlan plan;
    bake::Frames frames;
    bake::Baked baked;
    bake::ErrorReport report;
};

Measured measure(const source::FrameSource& source, const bake::Recipe& recipe) {
    Measured m;
    m.plan = bake::planSampling(source, recipe);
    m.frames = bake::sampleFrames(source, m.plan);
    m.baked = bake::encodeFrames(source, m.plan, m.frames, recipe);
    const bake::TextureReader reader = m.baked.reader(source.mesh());
    m.report = bake::measureError(source, m.plan, {&m.frames, nullptr}, reader, m.baked.textures.clips);
    return m;
}

bake::Frames framesOf(const std::vector<std::vector<float>>& xs) {
    bake::Frames frames;
    frames.vertices = xs[0].size();
    frames.frames = xs.size();
    for (const auto& row : xs) {
        for (const float x : row) {
            frames.positions.emplace_back(x, 0, 0);
        }
    }
    return frames;
}

} // namespace

class TestError : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void blendingAStraightLineCostsNothingAnArcDoes() {
        bake::Recipe recipe;
        recipe.positionStore = "float32";
        const AnalyticSource straight(3, tests::timed(1.0, 10.0), tests::drift(1.0f));
        QVERIFY(measure(straight, recipe).report.all.max < 1e-6);
        // A point on a circle of 0.3 m radius, 8 frames: midway between, the chord is r·(1 − cos(22.5°)) off.
        const AnalyticSource circle(2, tests::timed(1.0, 8.0), [](const glm::vec3& rest, double seconds) {
            const double turn = 6.283185307179586 * seconds;
            return rest + 0.3f * glm::vec3(std::cos(turn), std::sin(turn), 0);
        });
        const Measured m = measure(circle, recipe);
        const double sagitta = 0.3 * (1.0 - std::cos(M_PI / 8));
        QVERIFY(std::abs(m.report.betweenFrames.max - sagitta) < 1e-6);
        QVERIFY(std::abs(m.report.betweenFrames.rms - sagitta) < 1e-6);
        QVERIFY(m.report.atFrames.max < 1e-7);
        QVERIFY(std::abs(m.report.all.rms - sagitta / std::sqrt(2.0)) < 1e-6); // half of the instants are off
    }
    void leftOutFramesOfASequenceAreTheMeasure() {
        // Frame 5 of 11 jumps up by 40 mm; with a step of 2 it is left out.
        const AnalyticSource jump(3, tests::sequence(11), [](const glm::vec3& rest, double seconds) {
            return rest + glm::vec3(0, std::lround(seconds * 30) == 5 ? 0.04f : 0.0f,
                                    0.001f * static_cast<float>(seconds));
        });
        bake::Recipe recipe;
        recipe.positionStore = "float32";
        recipe.step = 2;
        const Measured m = measure(jump, recipe);
        QVERIFY(std::abs(m.report.all.max - 0.04) < 1e-6);
        QCOMPARE(m.report.worstFrame, 2.5); // kept frames 2 and 3 are frames 4 and 6
        QCOMPARE(m.report.worstClip, std::string("clip"));
        QVERIFY(m.report.atFrames.max < 1e-7);
        recipe.step = 1;
        QVERIFY(measure(jump, recipe).report.all.max < 1e-7);
    }
    void percentileLeavesOutTheWorstHundredth() {
        // 400 vertices, one of which is far off between frames.
        const AnalyticSource source(20, tests::sequence(3), [](const glm::vec3& rest, double seconds) {
            const bool odd = std::lround(seconds * 30) == 1;
            return rest + glm::vec3(0, odd ? (rest.x == 1.0f && rest.z == 1.0f ? 1.0f : 0.01f) : 0.0f, 0);
        });
        bake::Recipe recipe;
        recipe.positionStore = "float32";
        recipe.closing = bake::Closing::asIs;
        recipe.step = 2;
        const bake::Distances d = measure(source, recipe).report.betweenFrames;
        QCOMPARE(d.max, 1.0);
        QVERIFY(std::abs(d.p99 - 0.01) < 1e-6);
        QVERIFY(std::abs(d.rms - std::sqrt((1.0 + 399 * 1e-4) / 400)) < 1e-6);
    }
    void theStoresOwnErrorShowsAtFrames() {
        const AnalyticSource source(6, tests::timed(1.0, 12.0), tests::wave(1.0));
        bake::Recipe recipe;
        recipe.positionStore = "unorm16";
        const Measured m = measure(source, recipe);
        const double bound = static_cast<double>(glm::length(
                                 m.baked.textures.positionStore.errorBound(m.baked.textures.ranges[0]))) +
                             1e-6;
        QVERIFY(m.report.atFrames.max > 0.0);
        QVERIFY(m.report.atFrames.max <= bound);
        QVERIFY(m.report.normalAtFramesMaxDegrees <= 0.39);
        // Twelve frames and the middles between them, in the order in which they are played.
        QCOMPARE(m.report.instants.size(), std::size_t(24));
        QCOMPARE(m.report.instants[3].frame, 1.5);
        QVERIFY(!m.report.instants[3].kept && m.report.instants[4].kept);
    }
    void threadsDoNotChangeTheReport() {
        const AnalyticSource source(30, tests::timed(1.0, 20.0), tests::wave(1.0));
        const auto with = [&](std::size_t threads) {
            const base::ThreadLimit limit(threads);
            return measure(source, {}).report;
        };
        const bake::ErrorReport one = with(1);
        const bake::ErrorReport two = with(2);
        QCOMPARE(one.all.rms, two.all.rms);
        QCOMPARE(one.normalRmsDegrees, two.normalRmsDegrees);
        QCOMPARE(one.worstVertex, two.worstVertex);
    }
    void seamGapIsWhatIsBeyondOrdinarySteps() {
        // Steps of 1; over the seam vertex 0 travels 3 back, vertex 1 one.
        QCOMPARE(bake::seamGap(framesOf({{0, 0}, {1, 1}, {2, 0}, {3, 1}}), 0, 4), 2.0);
        QCOMPARE(bake::seamGap(framesOf({{0}, {1}, {0.5f}, {1}}), 0, 4), 1.0 - 0.75);
        QCOMPARE(bake::seamGap(framesOf({{0}, {1}, {1.5f}, {0.5f}}), 0, 4), 0.0); // moves less than beside it
        QCOMPARE(bake::seamGap(framesOf({{0}}), 0, 1), 0.0);
    }
    void motionPerFrame() {
        const bake::Motion motion = bake::measureMotion(framesOf({{0, 0}, {1, 0}, {1, 4}}), 0, 3);
        QCOMPARE(motion.max, (std::vector<float>{1, 4, 4}));
        QCOMPARE(motion.mean, (std::vector<float>{0.5f, 2, 2.5f}));
        QCOMPARE(motion.largest, 4.0f);
    }
};

static const ripple::tests::SuiteOf<TestError> kSuite;
#include "test_error.moc"
