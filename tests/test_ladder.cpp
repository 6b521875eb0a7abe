#include "analytic_source.h"
#include "bake/kind.h"
#include "bake/ladder.h"
#include "bake/texture_reader.h"
#include "bake/tolerance.h"
#include "base/progress.h"
#include "problem_of.h"
#include "suite.h"
#include "turning_pieces.h"

#include <QTest>

#include <cmath>

#include <atomic>
#include <chrono>
#include <thread>

using namespace ripple;
using tests::AnalyticSource;

class TestLadder : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void everyRungIsWhatItsBakeGives() {
        const AnalyticSource source(9, tests::timed(1.0, 24.0), tests::wave(1.0));
        const auto ladder = bake::climbLadder(source, {}, {}, {});
        QVERIFY(ladder->complete());
        QVERIFY(ladder->rungs.size() > 40);
        for (std::size_t i = 0; i < ladder->rungs.size(); i += 3) {
            const bake::Rung& rung = ladder->rungs[i];
            const bake::SamplePlan plan = bake::planSampling(source, rung.recipe);
            const bake::Baked baked = bake::bake(source, plan, rung.recipe);
            const bake::TextureReader reader = baked.reader(source.mesh());
            const bake::ErrorReport error =
                bake::measureError(source, plan, {}, reader, baked.textures.clips);
            QCOMPARE(rung.memory, baked.textures.textureMemory());
            QVERIFY2(std::abs(rung.error - error.all.max) < 1e-6,
                     qPrintable(QString::fromStdString(rung.label())));
        }
    }
    void tolerancesAreReadAsSharesOrLengths() {
        const auto metres = [](const char* text) {
            const auto read = bake::parseTolerance(text);
            return read ? read->metres(2.0) : -1.0;
        };
        QCOMPARE(metres("0.1 %"), 0.002);
        QCOMPARE(metres("0.5mm"), 0.0005);
        QCOMPARE(metres("0.002"), 0.002);
        QCOMPARE(bake::Tolerance().metres(3.0), 0.003);
        for (const char* none : {"0", "0 %", "-1 mm", "1 kg", "thin", ""}) {
            QVERIFY2(!bake::parseTolerance(none), none);
        }
        // The diagonal of a square of 2 m.
        const AnalyticSource square(2, tests::timed(1.0), tests::wave(1.0));
        QVERIFY(std::abs(bake::assetSize(square.mesh()) - 2.0 * std::sqrt(2.0)) < 1e-6);
        QCOMPARE(bake::assetSize({}), 0.0);
    }
    void theWorthwhileDescendAndTheOthersAreBeaten() {
        const AnalyticSource source(9, tests::timed(1.0, 24.0), tests::wave(1.0));
        const auto ladder = bake::climbLadder(source, {}, {}, {});
        double best = 1e9;
        for (const bake::Rung& rung : ladder->rungs) {
            if (rung.worthwhile) {
                QVERIFY(rung.error < best);
                best = rung.error;
            } else {
                QVERIFY(rung.error >= best); // one of no more memory is as good
            }
        }
        QCOMPARE(bake::cheapest(*ladder, best / 2.0 - 1e-12), std::optional<std::size_t>());
        for (const double tolerance : {1.0, 0.05, 0.01, 0.003}) {
            const auto rung = bake::cheapest(*ladder, tolerance);
            QVERIFY(rung && ladder->rungs[*rung].error <= tolerance);
            for (const bake::Rung& other : ladder->rungs) {
                QVERIFY(other.error > tolerance || other.memory >= ladder->rungs[*rung].memory);
            }
        }
    }
    void aTravellingWaveIsCheapestAsShapes() {
        const AnalyticSource source(20, tests::sequence(48), tests::wave(0.7));
        const auto ladder = bake::climbLadder(source, {}, {}, {});
        const auto rung = bake::cheapest(*ladder, 0.001);
        QVERIFY(rung && ladder->rungs[*rung].recipe.kind == &bake::kShapes);
        QVERIFY(ladder->rungs[*rung].label().find("shapes") != std::string::npos);
        QVERIFY(ladder->whyNot(bake::kPieces).find("bends") != std::string::npos);
    }
    void stiffPartsAreCheapestAsPieces() {
        const tests::TurningPieces source(4, 40);
        const auto ladder = bake::climbLadder(source, {}, {}, {});
        const auto rung = bake::cheapest(*ladder, 0.002);
        QVERIFY(rung && ladder->rungs[*rung].recipe.kind == &bake::kPieces);
        QCOMPARE(ladder->rungs[*rung].columns, std::size_t(4));
        QVERIFY(ladder->whyNot(bake::kPieces).empty());
    }
    void onlyWhatIsFreeIsVaried() {
        const AnalyticSource source(6, tests::sequence(30), tests::wave(0.7));
        bake::Recipe recipe;
        recipe.positionStore = "unorm16";
        recipe.content = bake::Content::absolute;
        recipe.step = 3;
        recipe.normalStore = "none";
        const auto ladder = bake::climbLadder(source, recipe, {false, false, false, false, false}, {});
        QCOMPARE(ladder->rungs.size(), std::size_t(1));
        QVERIFY(ladder->rungs[0].recipe == recipe);
        const auto stores = bake::climbLadder(source, recipe, {false, false, true, false, false}, {});
        QCOMPARE(stores->rungs.size(), bake::positionStores().size());
        for (const bake::Rung& rung : stores->rungs) {
            QCOMPARE(rung.recipe.step, std::size_t(3));
            QVERIFY(rung.recipe.content == bake::Content::absolute);
        }
    }
    void itRefinesAndStops() {
        const AnalyticSource source(9, tests::sequence(24), tests::wave(0.7));
        std::vector<std::size_t> tried;
        base::Progress progress;
        bake::climbLadder(source, {}, {}, progress, [&](std::shared_ptr<const bake::Ladder> part) {
            QVERIFY(tried.empty() || part->tried >= tried.back());
            tried.push_back(part->tried);
        });
        QVERIFY(tried.size() > 5 && tried.front() < tried.back());
        base::Progress stopped;
        QVERIFY_EXCEPTION_THROWN(
            bake::climbLadder(source, {}, {}, stopped, [&](const auto&) { stopped.cancel(); }),
            base::Cancelled);
    }
    void itMakesRoomAndComesToTheSame() {
        const auto wave = tests::wave(0.7);
        const auto alone = bake::climbLadder(AnalyticSource(9, tests::sequence(30), wave), {}, {}, {});
        // Held three times: once in the middle of sampling, which has to be done again, and after two parts.
        base::Progress progress;
        std::atomic<int> asked{0};
        const AnalyticSource source(9, tests::sequence(30), [&](const glm::vec3& rest, double seconds) {
            if (++asked == 500) {
                progress.hold(true);
            }
            return wave(rest, seconds);
        });
        std::atomic<std::size_t> parts{0};
        std::atomic<bool> ended{false};
        std::shared_ptr<const bake::Ladder> held;
        std::thread climb([&] {
            held = bake::climbLadder(source, {}, {}, progress,
                                     [&](const auto&) { progress.hold(++parts <= 2); });
            ended = true;
        });
        std::size_t holds = 0;
        while (!ended) {
            if (progress.held()) {
                // Between parts nothing goes on until it is let go; in the middle of one that part ends
                // first.
                const std::size_t before = parts;
                std::this_thread::sleep_for(std::chrono::milliseconds(30));
                QCOMPARE(parts.load(), before);
                ++holds;
                progress.hold(false);
            }
            std::this_thread::yield();
        }
        climb.join();
        QCOMPARE(holds, std::size_t(3));
        QVERIFY(asked > 30 * 81); // some poses were asked for twice
        QCOMPARE(held->rungs.size(), alone->rungs.size());
        for (std::size_t i = 0; i < held->rungs.size(); ++i) {
            QCOMPARE(held->rungs[i].label(), alone->rungs[i].label());
            QCOMPARE(held->rungs[i].error, alone->rungs[i].error);
        }
    }
    void aHeldLadderCanBeCancelled() {
        const AnalyticSource source(6, tests::sequence(30), tests::wave(0.7));
        base::Progress progress;
        progress.hold(true);
        std::atomic<bool> cancelled{false};
        std::thread climb([&] {
            try {
                bake::climbLadder(source, {}, {}, progress);
            } catch (const base::Cancelled&) {
                cancelled = true;
            }
        });
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
        QVERIFY(!cancelled);
        progress.cancel();
        climb.join();
        QVERIFY(cancelled);
    }
    void posesThatAreKnownAreNotAskedAgain() {
        static std::atomic<int> asked;
        const AnalyticSource source(4, tests::sequence(20), [](const glm::vec3& rest, double seconds) {
            ++asked;
            return rest + glm::vec3(0, static_cast<float>(std::sin(9.0 * seconds)), 0);
        });
        const bake::SamplePlan plan = bake::planSampling(source, {});
        const bake::Frames frames = bake::sampleFrames(source, plan);
        asked = 0;
        const auto cold = bake::climbLadder(source, {}, {}, {});
        const int without = asked.load();
        asked = 0;
        const auto warm = bake::climbLadder(source, {}, {}, {}, {}, {&plan, &frames});
        QVERIFY2(asked + 20 * 16 <= without, qPrintable(QString("%1 and %2").arg(asked.load()).arg(without)));
        QCOMPARE(warm->rungs.size(), cold->rungs.size());
        for (std::size_t i = 0; i < warm->rungs.size(); ++i) {
            QCOMPARE(warm->rungs[i].error, cold->rungs[i].error);
        }
    }
    void labelsSayWhatIsStored() {
        bake::Rung rung;
        rung.recipe.positionStore = "unorm16";
        QCOMPARE(rung.label(), std::string("16-bit range"));
        rung.recipe.step = 2;
        QCOMPARE(rung.label(), std::string("16-bit range, every 2nd"));
        rung.recipe.step = 11;
        rung.recipe.content = bake::Content::absolute;
        QCOMPARE(rung.label(), std::string("16-bit range absolute, every 11th"));
        rung.recipe.thin = 0.001;
        rung.rows = 7;
        QCOMPARE(rung.label(), std::string("16-bit range absolute, 7 uneven frames"));
        rung.recipe.kind = &bake::kShapes;
        QCOMPARE(rung.label(), std::string("7 shapes, 16-bit range"));
    }
    void oneFrameAndNoMotionHaveALadderToo() {
        const AnalyticSource still(4, tests::sequence(1), tests::drift(1.0f));
        const auto ladder = bake::climbLadder(still, {}, {}, {});
        QVERIFY(ladder->complete());
        QVERIFY(bake::cheapest(*ladder, 1e-3).has_value());
    }
};

static const ripple::tests::SuiteOf<TestLadder> kSuite;
#include "test_ladder.moc"
