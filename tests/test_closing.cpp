#include "analytic_source.h"
#include "bake/bake.h"
#include "bake/error.h"
#include "bake/thinning.h"
#include "base/progress.h"
#include "problem_of.h"
#include "source/open.h"
#include "suite.h"

#include <glm/geometric.hpp>

#include <QTest>

using namespace ripple;
using tests::AnalyticSource;

namespace {

bake::Recipe closedBy(bake::Closing closing, std::size_t fade = 12) {
    bake::Recipe recipe;
    recipe.closing = closing;
    recipe.fadeFrames = fade;
    recipe.positionStore = "float32";
    return recipe;
}

bake::ErrorReport errorOf(const source::FrameSource& source, const bake::Recipe& recipe) {
    const bake::SamplePlan plan = bake::planSampling(source, recipe);
    const bake::Baked baked = bake::bake(source, plan, recipe);
    const bake::TextureReader reader = baked.reader(source.mesh());
    return bake::measureError(source, plan, {}, reader, baked.textures.clips);
}

/// The most that a reader's linear blend is off anywhere in the first clip, looked at 33 times between
/// frames.
double worstOf(const source::FrameSource& source, const bake::SamplePlan& plan, const bake::Recipe& recipe) {
    const bake::Baked baked = bake::bake(source, plan, recipe);
    const bake::TextureReader reader = baked.reader(source.mesh());
    double worst = 0.0;
    for (std::size_t c = 0; c < plan.clips.size(); ++c) {
        const bake::ClipPlan& clip = plan.clips[c];
        const bake::BakedClip& stored = baked.textures.clips[c];
        std::vector<glm::vec3> truth(reader.vertexCount());
        std::vector<glm::vec3> read(truth.size());
        const double steps = static_cast<double>(stored.length()) - (stored.closed ? 0.0 : 1.0);
        for (double frame = 0.0; frame <= steps; frame += 1.0 / 33.0) {
            bake::samplePose(source, clip, clip.seconds[0] + frame / clip.fps, truth, {});
            reader.at(stored, static_cast<float>(frame), read, {});
            for (std::size_t v = 0; v < truth.size(); ++v) {
                worst = std::max(worst, static_cast<double>(glm::distance(truth[v], read[v])));
            }
        }
    }
    return worst;
}

base::Problem planning(const source::FrameSource& source, const bake::Recipe& recipe) {
    return tests::problemOf([&] { bake::planSampling(source, recipe); });
}

} // namespace

class TestClosing : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void aFadedClipGoesOverToWhatCameBefore() {
        const AnalyticSource source(3, tests::sequence(60), tests::drift(1.0f));
        const bake::SamplePlan plan = bake::planSampling(source, closedBy(bake::Closing::fade, 10));
        const bake::ClipPlan& clip = plan.clips[0];
        QVERIFY(clip.closed);
        QCOMPARE(clip.firstFrame, 10.0); // the fade uses up ten frames before the start
        QCOMPARE(clip.seconds.size(), std::size_t(50));
        const bake::Frames frames = bake::sampleFrames(source, plan);
        const auto x = [&](std::size_t f) { return static_cast<double>(frames.positionsOf(f)[4].x); };
        // Before the fade nothing is changed; in it, frame 39 + i is blended with frame i − 11 before the
        // start.
        QVERIFY(std::abs(x(0) - 10.0 / 30.0) < 1e-6);
        QVERIFY(std::abs(x(39) - 49.0 / 30.0) < 1e-6);
        for (std::size_t i = 1; i <= 10; ++i) {
            const double u = static_cast<double>(i) / 11.0;
            const double w = u * u * (3.0 - 2.0 * u);
            const double own = (49.0 + static_cast<double>(i)) / 30.0;
            QVERIFY(std::abs(x(39 + i) - ((1.0 - w) * own + w * (own - 50.0 / 30.0))) < 1e-6);
        }
        // What a reader gets is measured against the faded motion.
        QVERIFY(errorOf(source, closedBy(bake::Closing::fade, 10)).all.max < 1e-6);
    }
    void theAwningEndsAsALoop() {
        const auto awning = source::open(std::filesystem::path(DEMO_FOLDER) / "awning_####.obj", {}, {});
        const auto seamOf = [&](const bake::Recipe& recipe) {
            const bake::SamplePlan plan = bake::planSampling(*awning, recipe);
            const bake::Frames frames = bake::sampleFrames(*awning, plan);
            return bake::measureSeam(frames, 0, frames.frames, plan.clips[0].fps);
        };
        const bake::Seam open = seamOf(closedBy(bake::Closing::asIs));
        QVERIFY(open.gap > 0.1);
        const bake::Seam faded = seamOf(closedBy(bake::Closing::fade));
        QVERIFY2(faded.gap <= faded.medianStep,
                 qPrintable(QString("gap %1, median step %2").arg(faded.gap).arg(faded.medianStep)));
        QVERIFY(faded.velocityBreak < 2.0 * faded.medianBreak);
        QVERIFY(faded.velocityBreak < open.velocityBreak);
    }
    void onlyTheClipThatIsAskedFades() {
        const AnalyticSource source(3, tests::timed(1.0), tests::wave(1.0));
        const bake::SamplePlan plan = bake::planSampling(source, closedBy(bake::Closing::fade));
        QVERIFY(plan.clips[0].closed); // by itself
        QCOMPARE(plan.clips[0].seconds.size(), std::size_t(30));
        QVERIFY(tests::has(plan.findings, "fade-not-needed"));
        const AnalyticSource drifting(3, tests::sequence(40), tests::drift(1.0f));
        bake::Recipe recipe = closedBy(bake::Closing::fade);
        recipe.clips = {{"clip", {}, bake::Closing::asIs}};
        QVERIFY(!bake::planSampling(drifting, recipe).clips[0].closed);
        recipe.closing = bake::Closing::asIs;
        recipe.clips = bake::withClosing(drifting, recipe, 0, bake::Closing::fade);
        QVERIFY(bake::planSampling(drifting, recipe).clips[0].closed);
    }
    void aChosenWindowIsPlayedRound() {
        const AnalyticSource source(3, tests::sequence(60), tests::wave(1.0));
        bake::Recipe recipe = closedBy(bake::Closing::drop);
        recipe.clips = bake::withLoop(source, recipe, 0, {5, 34});
        const bake::ClipPlan clip = bake::planSampling(source, recipe).clips[0];
        QVERIFY(clip.closed);
        QCOMPARE(clip.seconds.size(), std::size_t(30));
        QCOMPARE(clip.frames, std::size_t(30));
        const bake::Frames frames = bake::sampleFrames(source, bake::planSampling(source, recipe));
        const bake::Seam seam = bake::measureSeam(frames, 0, 30, 30.0); // a second is the wave's period
        QVERIFY(seam.gap < seam.medianStep && seam.velocityBreak < 1.5 * seam.medianBreak);
    }
    void whatCannotFadeIsSaid() {
        const AnalyticSource source(3, tests::sequence(30), tests::drift(1.0f));
        bake::Recipe recipe = closedBy(bake::Closing::fade);
        recipe.clips = {{"clip", bake::FrameWindow{5, 29}, {}}};
        QVERIFY(tests::says(planning(source, recipe), "12 frames", "begin at frame 12", "5 frames"));
        recipe.clips = {{"clip", bake::FrameWindow{20, 29}, {}}};
        QVERIFY(tests::says(planning(source, recipe), "12 frames", "10 frames", "fewer"));
        recipe.clips.clear();
        recipe.fadeFrames = 0;
        QVERIFY(tests::says(planning(source, recipe), "at least one"));
    }
    void seamsTellGapAndJolt() {
        // One vertex that runs at 1 m/s and turns back over the seam: 0 1 2 3 | 0.
        bake::Frames frames;
        frames.vertices = 1;
        frames.frames = 8;
        for (int f = 0; f < 8; ++f) {
            frames.positions.emplace_back(static_cast<float>(f), 0, 0);
        }
        const bake::Seam seam = bake::measureSeam(frames, 0, 8, 10.0);
        QCOMPARE(seam.gap, 7.0 - 1.0); // over the seam 7, beside it 1
        QCOMPARE(seam.medianStep, 1.0);
        QCOMPARE(seam.velocityBreak, 0.0); // it goes on as fast as it came
        frames.positions[1].x = -1.0f;     // … and now leaves the other way
        QCOMPARE(bake::measureSeam(frames, 0, 8, 10.0).velocityBreak, 20.0);
    }
    void aSequenceIsSampledAnewAtAnotherRate() {
        const AnalyticSource source(3, tests::sequence(31), tests::drift(1.0f));
        bake::Recipe recipe = closedBy(bake::Closing::drop);
        recipe.fps = 12.0;
        const bake::ClipPlan clip = bake::planSampling(source, recipe).clips[0];
        QCOMPARE(clip.fps, 12.0);
        QCOMPARE(clip.seconds.size(), std::size_t(13));  // one second and its end
        QVERIFY(errorOf(source, recipe).all.max < 1e-5); // straight motion loses nothing
        const AnalyticSource round(3, tests::sequence(31), tests::wave(1.0));
        const bake::ClipPlan loop = bake::planSampling(round, recipe).clips[0];
        QVERIFY(loop.closed);
        QCOMPARE(loop.seconds.size(), std::size_t(12));
    }
    void thinningKeepsJustWhatBlendingNeeds() {
        // Straight from 0 to 10, a corner, straight to 25, still to the end: four frames say it all.
        const AnalyticSource source(3, tests::sequence(41), [](const glm::vec3& rest, double seconds) {
            const double f = seconds * 30.0;
            const double y = f < 10 ? 0.01 * f : f < 25 ? 0.1 - 0.02 * (f - 10) : -0.2;
            return rest + glm::vec3(0, static_cast<float>(y), 0);
        });
        bake::Recipe recipe = closedBy(bake::Closing::asIs);
        recipe.thin = 1e-4;
        const bake::ClipPlan clip = bake::planSampling(source, recipe).clips[0];
        QCOMPARE(clip.times, (std::vector<std::uint32_t>{0, 10, 25, 40}));
        QCOMPARE(clip.length, std::size_t(41));
        QCOMPARE(clip.probes.size(), std::size_t(37)); // every frame left out is measured
        QVERIFY(errorOf(source, recipe).all.max < 1e-5);
        const bake::Baked baked = bake::bake(source, recipe);
        QCOMPARE(baked.textures.layout.blocks, std::size_t(4));
        const bake::BakedClip& stored = baked.textures.clips[0];
        QCOMPARE(stored.length(), std::size_t(41));
        QCOMPARE(stored.seconds(), 40.0 / 30.0);
        const bake::FramePair pair = bake::framePair(stored, 16.0f);
        QCOMPARE(pair.first, std::size_t(1));
        QCOMPARE(pair.second, std::size_t(2));
        QVERIFY(std::abs(pair.fraction - 0.4f) < 1e-6f);
    }
    void thinningHoldsItsToleranceBetweenFramesToo() {
        for (const double tolerance : {0.05, 0.01, 0.002, 0.0002}) {
            for (const bool closed : {true, false}) {
                const AnalyticSource source(5, tests::timed(1.0, 60.0),
                                            closed ? tests::wave(1.0) : tests::wave(1.37));
                bake::Recipe recipe = closedBy(bake::Closing::drop);
                recipe.thin = tolerance;
                const bake::SamplePlan plan = bake::planSampling(source, recipe);
                QCOMPARE(plan.clips[0].closed, closed);
                QVERIFY(plan.frameCount() < (tolerance > 0.001 ? 60u : 240u));
                QVERIFY(worstOf(source, plan, recipe) <= tolerance + 1e-6);
                QVERIFY(errorOf(source, recipe).all.max <= tolerance + 1e-6);
            }
        }
    }
    void aQuickMotionIsSampledFasterAndOnlyThere() {
        // Three swings within a tenth of the clip, sampled at a rate that shows them as a stump; still
        // elsewhere.
        const AnalyticSource source(3, tests::timed(2.0, 15.0), [](const glm::vec3& rest, double seconds) {
            const double u = std::clamp((seconds - 1.0) / 0.2, 0.0, 1.0);
            return rest +
                   glm::vec3(0, static_cast<float>(0.1 * std::pow(std::sin(3.0 * 3.14159265 * u), 3)), 0);
        });
        bake::Recipe recipe = closedBy(bake::Closing::asIs);
        recipe.thin = 0.005;
        const bake::SamplePlan plan = bake::planSampling(source, recipe);
        const bake::ClipPlan& clip = plan.clips[0];
        QCOMPARE(clip.fps, 120.0);               // eight instants a frame where it must be
        QCOMPARE(clip.length, std::size_t(240)); // it ends where it began, so it closes
        QVERIFY(clip.seconds.size() < 40);
        for (const double seconds : clip.seconds) {
            QVERIFY(seconds <= 1.01 || seconds >= 1.19 || std::fmod(seconds * 120.0 + 1e-6, 1.0) < 1e-3);
        }
        QVERIFY(worstOf(source, plan, recipe) <= 0.005 + 1e-6);
        recipe.thin = 1e-5; // what even eight instants cannot hold is said
        QVERIFY(tests::has(bake::planSampling(source, recipe).findings, "too-quick-to-blend"));
    }
    void theHeronIsThinnedToWhatWasPromised() {
        const auto heron = source::open(std::filesystem::path(DEMO_FOLDER) / "heron.glb", {}, {});
        bake::Recipe recipe = closedBy(bake::Closing::drop);
        recipe.thin = 0.001;
        const bake::SamplePlan plan = bake::planSampling(*heron, recipe);
        QVERIFY(worstOf(*heron, plan, recipe) <= 0.001 + 1e-6);
    }
    void aFadedWindowOfAClosedClipCloses() {
        // Before the start of a clip that closes lies its end: any window of it can be faded.
        const AnalyticSource source(3, tests::timed(2.0), tests::wave(2.0));
        bake::Recipe recipe = closedBy(bake::Closing::fade, 8);
        recipe.clips = {{"clip", bake::FrameWindow{0, 39}, {}}};
        const bake::SamplePlan plan = bake::planSampling(source, recipe);
        QVERIFY(plan.clips[0].closed);
        QVERIFY(!tests::has(plan.findings, "fade-not-needed"));
        const bake::Frames frames = bake::sampleFrames(source, plan);
        // Frame 40 would be frame 0: the last frame is nearly where the clip is one frame before its start.
        const double u = 8.0 / 9.0;
        const double w = u * u * (3.0 - 2.0 * u);
        const auto wave = [](double seconds) {
            return 0.3 * std::sin(6.283185307179586 * (seconds / 2.0 + 0.5));
        };
        const double expected = (1.0 - w) * wave(39.0 / 30.0) + w * wave(59.0 / 30.0);
        QVERIFY(std::abs(static_cast<double>(frames.positionsOf(39)[0].y) - expected) < 1e-6);
    }
    void aStillStretchIsCutAtItsLongest() {
        const AnalyticSource still(2, tests::sequence(200),
                                   [](const glm::vec3& rest, double) { return rest; });
        bake::Recipe recipe = closedBy(bake::Closing::asIs);
        recipe.thin = 0.001;
        const auto times = bake::planSampling(still, recipe).clips[0].times;
        QCOMPARE(times.size(), std::size_t(5)); // 0, 64, 128, 192, 199
        QCOMPARE(times[1], std::uint32_t(bake::kLongestStretch));
        QCOMPARE(times.back(), std::uint32_t(199));
    }
    void clipsWithoutLengthAndSingleFrames() {
        const AnalyticSource instant(3, tests::timed(0.0), tests::drift(1.0f));
        const bake::SamplePlan plan = bake::planSampling(instant, {});
        QCOMPARE(plan.frameCount(), std::size_t(1));
        QVERIFY(tests::has(plan.findings, "one-frame"));
        QCOMPARE(errorOf(instant, {}).all.max, 0.0);
        const AnalyticSource one(3, tests::sequence(1), tests::drift(1.0f));
        for (const bake::Closing closing :
             {bake::Closing::asIs, bake::Closing::drop, bake::Closing::window, bake::Closing::fade}) {
            QCOMPARE(bake::planSampling(one, closedBy(closing)).frameCount(),
                     std::size_t(1)); // nothing to fade
        }
        bake::Recipe thin = closedBy(bake::Closing::asIs);
        thin.thin = 0.01;
        QCOMPARE(bake::planSampling(one, thin).frameCount(), std::size_t(1));
    }
};

static const ripple::tests::SuiteOf<TestClosing> kSuite;
#include "test_closing.moc"
