#include "analytic_source.h"
#include "bake/sampling.h"
#include "problem_of.h"
#include "suite.h"

#include <QTest>

using namespace ripple;
using tests::AnalyticSource;

namespace {

bake::ClipPlan plan(const source::FrameSource& source, const bake::Recipe& recipe) {
    return bake::planSampling(source, recipe).clips.at(0);
}

} // namespace

class TestSampling : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void closedClipsAreCutEvenly() {
        // Laws §5: N = round(D·X) = round(1.4 · 24) = 34 frames, and the rate is N/D.
        const AnalyticSource source(3, timed(1.4, 24.0), tests::wave(1.4));
        const bake::ClipPlan p = plan(source, {});
        QVERIFY(p.closed);
        QCOMPARE(p.seconds.size(), std::size_t(34));
        QCOMPARE(p.fps, 34 / 1.4);
        QCOMPARE(p.seconds[17], 1.4 * 17 / 34);
        QCOMPARE(p.probes.size(), std::size_t(34)); // a midpoint for each step, over the seam too
        QCOMPARE(p.probes.back().frame, std::size_t(33));
        QVERIFY(std::abs(p.probes.back().seconds - 1.4 * 33.5 / 34) < 1e-12);
    }
    void openClipsEndOnTheirLastInstant() {
        // N = ceil(D·X) + 1 = ceil(1.01 · 10) + 1 = 12; the last at the end.
        const AnalyticSource source(3, timed(1.01, 10.0), tests::drift(1.0f));
        const bake::ClipPlan p = plan(source, {});
        QVERIFY(!p.closed);
        QCOMPARE(p.seconds.size(), std::size_t(12));
        QCOMPARE(p.seconds[10], 1.0);
        QCOMPARE(p.seconds[11], 1.01);
        QCOMPARE(p.fps, 10.0);
        QCOMPARE(p.probes.size(), std::size_t(11));
        QVERIFY(std::abs(p.probes.back().seconds - 1.005) < 1e-12);
    }
    void roundingAddsNoFrame() {
        const AnalyticSource source(3, timed(0.1 * 3, 10.0), tests::drift(1.0f)); // 0.30000000000000004 s
        QCOMPARE(plan(source, {}).seconds.size(), std::size_t(4));
    }
    void stepsAndWindows() {
        const AnalyticSource source(3, sequence(120), tests::drift(1.0f));
        bake::Recipe recipe;
        recipe.step = 4;
        recipe.clips = {{"clip", bake::FrameWindow{18, 113}, {}}};
        const bake::ClipPlan p = plan(source, recipe);
        QCOMPARE(p.seconds.size(), std::size_t(24));
        QCOMPARE(p.seconds.back(), 110.0 / 30.0);
        QCOMPARE(p.fps, 7.5);
        QCOMPARE(p.firstFrame, 18.0);
        QCOMPARE(p.frameStep, 4.0);
        // The frames left out between kept ones: three in each of 23 steps.
        QCOMPARE(p.probes.size(), std::size_t(69));
        QCOMPARE(p.probes[1].fraction, 0.5);
        QCOMPARE(p.probes[1].seconds, 20.0 / 30.0);
    }
    void closedClipsStayEvenAtAnyStep() {
        const AnalyticSource source(3, timed(1.0, 30.0), tests::wave(1.0));
        bake::Recipe recipe;
        recipe.step = 4; // 30 / 4 = 7.5, so 8 frames
        const bake::ClipPlan p = plan(source, recipe);
        QCOMPARE(p.seconds.size(), std::size_t(8));
        QCOMPARE(p.fps, 8.0);
        QCOMPARE(p.seconds[7], 0.875);
    }
    void aRepeatedLastFrameIsDroppedAndSaid() {
        const AnalyticSource source(3, sequence(31), tests::wave(1.0));
        const bake::SamplePlan whole = bake::planSampling(source, {});
        QCOMPARE(whole.clips[0].seconds.size(), std::size_t(30));
        QVERIFY(whole.clips[0].closed);
        QVERIFY(tests::has(whole.findings, "repeat-dropped"));
        bake::Recipe recipe;
        recipe.closing = bake::Closing::asIs;
        QCOMPARE(plan(source, recipe).seconds.size(), std::size_t(31));
        QVERIFY(!plan(source, recipe).closed);
        recipe.closing = bake::Closing::drop;
        recipe.step = 7;
        const bake::SamplePlan uneven = bake::planSampling(source, recipe);
        QVERIFY(tests::has(uneven.findings, "step-uneven"));
        QCOMPARE(uneven.clips[0].seconds.size(), std::size_t(5));
        // The last stretch, 28 to the seam at 30, has one frame left out: half way.
        QCOMPARE(uneven.clips[0].probes.back().frame, std::size_t(4));
        QCOMPARE(uneven.clips[0].probes.back().fraction, 0.5);
    }
    void partOfAClosedClipIsOpen() {
        const AnalyticSource source(3, timed(1.0), tests::wave(1.0));
        bake::Recipe recipe;
        recipe.clips = {{"clip", bake::FrameWindow{0, 14}, {}}};
        QVERIFY(!plan(source, recipe).closed);
        recipe.clips = {{"clip", bake::FrameWindow{0, 29}, {}}};
        QVERIFY(plan(source, recipe).closed);
    }
    void oddRequestsAreProblems() {
        const AnalyticSource source(3, sequence(10), tests::drift(1.0f));
        const auto with = [&](const bake::ClipChoice& choice, std::size_t step) {
            bake::Recipe recipe;
            recipe.clips = {choice};
            recipe.step = step;
            return tests::problemOf([&] { bake::planSampling(source, recipe); });
        };
        QVERIFY(tests::says(with({"walk", {}, {}}, 1), "walk", "it has: clip"));
        QVERIFY(tests::says(with({"clip", bake::FrameWindow{4, 10}, {}}, 1), "4..10", "0..9"));
        QVERIFY(tests::says(with({"clip", {}, {}}, 0), "step"));
    }
    void aPoseThatIsNotFiniteNamesFrameAndVertex() {
        const AnalyticSource source(3, sequence(10), [](const glm::vec3& rest, double seconds) {
            return seconds > 0.19 && rest.x > 0.5f ? glm::vec3(NAN) : rest;
        });
        const bake::SamplePlan p = bake::planSampling(source, {});
        QVERIFY(tests::says(tests::problemOf([&] { bake::sampleFrames(source, p); }), "frame 6", "vertex 2"));
    }
    void singleFrames() {
        const AnalyticSource source(3, timed(0.0), tests::drift(1.0f));
        const bake::ClipPlan p = plan(source, {});
        QCOMPARE(p.seconds.size(), std::size_t(1));
        QVERIFY(p.probes.empty());
    }

private:
    static source::Clip timed(double duration, double fps = 30.0) { return tests::timed(duration, fps); }
    static source::Clip sequence(std::size_t frames) { return tests::sequence(frames); }
};

static const ripple::tests::SuiteOf<TestSampling> kSuite;
#include "test_sampling.moc"
