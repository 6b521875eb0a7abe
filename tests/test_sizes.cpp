// What a bake takes is known before its frames are sampled, and what is done to many frames stays small.

#include "analytic_source.h"
#include "bake/kind.h"
#include "bake/bake.h"
#include "bake/ladder.h"
#include "bake/room.h"
#include "bake/shared_motion.h"
#include "base/parallel.h"
#include "base/progress.h"
#include "base/units.h"
#include "bundle/write_bundle.h"
#include "motion/fit.h"
#include "motion/score_file.h"
#include "problem_of.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <atomic>
#include <thread>

#include <sys/resource.h>

using namespace ripple;
using tests::AnalyticSource;
using tests::says;

namespace {

/// Counts the poses that are asked of another source.
class Counting : public AnalyticSource {
public:
    using AnalyticSource::AnalyticSource;
    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        ++asked;
        AnalyticSource::sample(clip, seconds, positions, normals);
    }
    mutable std::atomic<std::size_t> asked{0};
};

/// Ten waves that die away, each with its own time: no few shapes hold it exactly.
AnalyticSource::Pose manyShapes() {
    return [](const glm::vec3& rest, double seconds) {
        glm::vec3 p = rest;
        for (int k = 1; k <= 10; ++k) {
            const auto n = static_cast<float>(k);
            const auto time = static_cast<float>(std::sin(1.7 * k * seconds + 0.3 * k * k));
            p.y += 0.3f / (n * n) * time * std::sin(n * rest.x + 0.7f * n) *
                   std::cos(0.6f * n * rest.z + 0.4f * n);
            p.x += 0.1f / (n * n) * time * std::cos(n * rest.z + 0.2f);
        }
        return p;
    };
}

/// The sum of squares of what a few shapes leave of the offsets, and the sum of all.
std::pair<double, double> left(const source::FrameSource& source, const bake::SamplePlan& plan,
                               const bake::SharedMotion& shared) {
    const bake::Poses poses(source, plan);
    bake::Poses::Scratch scratch;
    double rest = 0.0;
    double all = 0.0;
    for (std::size_t f = 0; f < poses.frames(); ++f) {
        const auto pose = poses.at(f, bake::Poses::Want::positions, scratch);
        for (std::size_t v = 0; v < poses.vertices(); ++v) {
            const glm::dvec3 offset = glm::dvec3(pose.positions[v]) - glm::dvec3(source.mesh().positions[v]);
            glm::dvec3 made(0.0);
            for (std::size_t s = 0; s < shared.shapes; ++s) {
                made += static_cast<double>(shared.weights[f * shared.shapes + s]) *
                        glm::dvec3(shared.offsets[s * poses.vertices() + v]);
            }
            all += glm::dot(offset, offset);
            rest += glm::dot(offset - made, offset - made);
        }
    }
    return {rest, all};
}

} // namespace

class TestSizes : public QObject {
    Q_OBJECT

    QTemporaryDir dir_;
    std::filesystem::path folder() const { return dir_.path().toStdString(); }

private Q_SLOTS:
    void whatDoesNotFitIsRefusedAfterThreePoses_data() {
        QTest::addColumn<QString>("kind");
        QTest::addColumn<QString>("content");
        for (const char* kind : {"vertices", "shapes"}) {
            QTest::addRow("%s", kind) << kind << "offset";
        }
        QTest::newRow("absolute") << "vertices"
                                  << "absolute";
    }
    void whatDoesNotFitIsRefusedAfterThreePoses() {
        QFETCH(QString, kind);
        QFETCH(QString, content);
        // 40 000 columns in rows of 64 are 625 a frame: 16 384 rows hold 26 frames.
        const Counting source(200, tests::timed(2.0, 30.0), manyShapes());
        bake::Recipe recipe;
        recipe.kind = bake::kindByName(kind.toStdString());
        recipe.content = *bake::contentByName(content.toStdString());
        recipe.maxWidth = 64;
        recipe.shapes = 60;
        const bake::SamplePlan plan = bake::planSampling(source, recipe);
        source.asked = 0;
        const base::Problem problem = tests::problemOf([&] { bake::bake(source, plan, recipe); });
        QVERIFY(says(problem, "texture height", "rows", base::countText(16384), "allow a wider texture"));
        QCOMPARE(source.asked.load(), std::size_t(3));
        // And so it is where a whole bundle is written.
        source.asked = 0;
        base::Progress progress;
        QVERIFY(says(
            tests::problemOf([&] { bundle::writeBundle(source, recipe, {}, folder() / "wide", progress); }),
            "texture height"));
        QVERIFY(source.asked < 30); // the plan's, and three
        QVERIFY(std::filesystem::is_empty(folder()));
        recipe.maxWidth = 4096;
        QCOMPARE(tests::problemOf([&] { bake::requireRoom(source, plan, recipe); }).line(), std::string());
    }
    void sizesComeFromWhatMovesDifferently() {
        const AnalyticSource source(10, tests::timed(1.0, 30.0), [](const glm::vec3& rest, double seconds) {
            return rest + glm::vec3(0.0f, static_cast<float>(seconds * seconds), 0.0f); // all alike
        });
        bake::Recipe recipe;
        const bake::SamplePlan plan = bake::planSampling(source, recipe);
        recipe.content = bake::Content::absolute;
        QCOMPARE(bake::measureSize(source, plan, recipe).columns, std::size_t(100));
        recipe.content = bake::Content::offset;
        QVERIFY(bake::measureSize(source, plan, recipe).columns < 10); // rounding apart, one
        QCOMPARE(bake::measureSize(source, plan, recipe).frames, plan.frameCount());
    }
    void tooManyFramesAreCountedAndRefusedAtOnce() {
        const Counting source(8, tests::timed(1000.0, 30.0), tests::wave(1000.0));
        bake::Recipe recipe;
        source.asked = 0;
        const base::Problem problem = tests::problemOf([&] { bake::bake(source, recipe); });
        QVERIFY(says(problem, "frames", base::countText(30000), base::countText(16384) + " rows",
                     "a higher speed"));
        QVERIFY(source.asked < 30);
        const Counting endless(8, tests::timed(1e9, 30.0), tests::wave(1e9));
        QVERIFY(says(tests::problemOf([&] { bake::bake(endless, recipe); }),
                     base::countText(30000000000) + " frames", "higher speed"));
        // Uneven thinning may keep few of many.
        recipe.kind = &bake::kShapes;
        QVERIFY(says(tests::problemOf([&] { bake::bake(source, recipe); }), base::countText(30000)));
    }
    void sketchesLeaveHardlyMoreThanTheBest_data() {
        QTest::addColumn<bool>("normals");
        QTest::newRow("positions") << false;
        QTest::newRow("with normals") << true;
    }
    void sketchesLeaveHardlyMoreThanTheBest() {
        QFETCH(bool, normals);
        const AnalyticSource source(16, tests::sequence(300), manyShapes());
        const bake::SamplePlan plan = bake::planSampling(source, {});
        const bake::Poses poses(source, plan);
        for (const std::size_t shapes : {2, 4, 7}) {
            const auto [best, all] =
                left(source, plan, bake::shareMotion(source.mesh(), poses, shapes, normals));
            const auto [sketch, same] =
                left(source, plan, bake::sketchMotion(source.mesh(), poses, shapes, normals));
            QCOMPARE(same, all);
            QVERIFY(best > 1e-6 * all); // something is left, so that this is a comparison
            QVERIFY2(sketch <= 1.005 * best,
                     qPrintable(QString("%1 shapes: %2 of %3").arg(shapes).arg(sketch).arg(best)));
        }
        // A motion of few shapes is found whole.
        const AnalyticSource few(12, tests::sequence(60), [](const glm::vec3& rest, double seconds) {
            return rest + glm::vec3(0.0f, rest.x * static_cast<float>(std::sin(9.0 * seconds)), 0.0f);
        });
        const bake::SamplePlan own = bake::planSampling(few, {});
        const bake::SharedMotion found = bake::sketchMotion(few.mesh(), bake::Poses(few, own), 20, false);
        QVERIFY(found.shapes <= 3);
        const auto [rest, all] = left(few, own, found);
        QVERIFY(rest < 1e-10 * all);
        float most = 0.0f;
        for (const float weight : found.weights) {
            most = std::max(most, std::abs(weight));
        }
        QVERIFY(std::abs(most - 1.0f) < 1e-6f);
    }
    void sketchesAreTheSameWithAnyNumberOfThreads() {
        const AnalyticSource source(16, tests::sequence(120), manyShapes());
        const bake::SamplePlan plan = bake::planSampling(source, {});
        const bake::Poses poses(source, plan);
        const bake::SharedMotion two = bake::sketchMotion(source.mesh(), poses, 5, true);
        const base::ThreadLimit limit(1);
        const bake::SharedMotion one = bake::sketchMotion(source.mesh(), poses, 5, true);
        QVERIFY(one.weights == two.weights);
        QVERIFY(std::equal(one.offsets.begin(), one.offsets.end(), two.offsets.begin(), two.offsets.end()));
    }
    void manyFramesAreSketchedAndTakeLittle() {
        QCOMPARE(bake::kExactFrames, std::size_t(512));
        // 100 000 vertices, 8 000 frames: all frames at once would be 9.6 GB, their products 0.5 GB.
        QVERIFY(bake::sharingMemory(100000, 8000, 48, false) < std::size_t{250} << 20);
        QVERIFY(bake::sharingMemory(1000, 400, 48, false) < std::size_t{64} << 20);
        const AnalyticSource source(16, tests::sequence(700), manyShapes());
        const bake::SamplePlan plan = bake::planSampling(source, {});
        const bake::SharedMotion shared =
            bake::shareMotion(source.mesh(), bake::Poses(source, plan), 12, false);
        const auto [rest, all] = left(source, plan, shared);
        QVERIFY(rest < 1e-3 * all);
    }
    void sharingIsCancelledSoon() {
        for (const std::size_t frames : {400, 2000}) {
            const Counting source(40, tests::sequence(frames), manyShapes());
            const bake::SamplePlan plan = bake::planSampling(source, {});
            base::Progress progress;
            std::atomic<bool> ended{false};
            source.asked = 0;
            std::thread work([&] {
                try {
                    bake::shareMotion(source.mesh(), bake::Poses(source, plan), 40, false, progress);
                } catch (const base::Cancelled&) {
                    ended = true;
                }
            });
            while (source.asked < 64) {
                std::this_thread::yield();
            }
            progress.cancel();
            const std::size_t asked = source.asked;
            work.join();
            QVERIFY(ended);
            QVERIFY(source.asked - asked < 64); // what was under way, and no more
        }
    }
    void theLadderTriesNothingThatCannotBe() {
        const Counting source(120, tests::timed(4.0, 30.0), manyShapes());
        bake::Recipe recipe;
        recipe.maxWidth = 32; // 450 rows a frame: 36 frames fit
        const auto ladder = bake::climbLadder(source, recipe, {false, true, true, true}, {});
        QVERIFY(ladder->complete());
        for (const bake::Rung& rung : ladder->rungs) {
            QVERIFY(rung.rows * 450 <= bake::kLargestTexture);
        }
        QVERIFY(!ladder->rungs.empty()); // every 4th and so on fit
        const bake::LadderFreedom stores{false, false, true, false, false};
        source.asked = 0;
        QVERIFY(bake::climbLadder(source, recipe, stores, {})->rungs.empty());
        QVERIFY2(source.asked < 60,
                 qPrintable(QString::number(source.asked.load()))); // of 120 frames and as many between
    }
    void wishedRatesAreBounded() {
        const auto said = [](const char* rate) {
            const std::string text =
                std::string("{\"format\": \"curly-ripple-score\", \"version\": 1, \"name\": \"s\", "
                            "\"loop_seconds\": 2, \"voices\": [{\"name\": \"v\", \"wished_rate\": ") +
                rate + "}]}";
            return tests::problemOf([&] { motion::parseScore(text, "s.score"); });
        };
        QVERIFY(says(said("1e300"), "wished rate"));
        QVERIFY(says(said("-1001"), "wished rate"));
        QVERIFY(said("3.5").line().empty());
        for (const double rate : {1e300, -1e300, 1e12}) {
            const motion::Fit fit = motion::fitRate(rate, 2.0);
            QCOMPARE(std::abs(fit.turns), 1000000);
        }
    }
};

static const ripple::tests::SuiteOf<TestSizes> kSuite;
#include "test_sizes.moc"
