#include "analytic_source.h"
#include "bake/kind.h"
#include "bake/bake.h"
#include "bake/error.h"
#include "bake/shared_motion.h"
#include "base/parallel.h"
#include "problem_of.h"
#include "suite.h"

#include <QTest>

using namespace ripple;
using tests::AnalyticSource;

namespace {

bake::Recipe shapesIn(const char* store, std::size_t shapes) {
    bake::Recipe recipe;
    recipe.kind = &bake::kShapes;
    recipe.positionStore = store;
    recipe.shapes = shapes;
    recipe.normalStore = "none"; // the formula's normals have a motion of their own
    return recipe;
}

bake::ErrorReport errorOf(const source::FrameSource& source, const bake::Recipe& recipe) {
    const bake::SamplePlan plan = bake::planSampling(source, recipe);
    const bake::Baked baked = bake::bake(source, plan, recipe);
    const bake::TextureReader reader = baked.reader(source.mesh());
    return bake::measureError(source, plan, {}, reader, baked.textures.clips);
}

/// Three standing waves of different size, each with its own time: just three shapes.
AnalyticSource threeShapes() {
    return {12, tests::sequence(24), [](const glm::vec3& rest, double seconds) {
                const auto t = static_cast<float>(seconds);
                return rest + 0.3f * std::sin(9.0f * t) * glm::vec3(0, rest.x, 0) +
                       0.05f * std::cos(13.0f * t) * glm::vec3(0, rest.x * rest.z, rest.z) +
                       0.004f * t * glm::vec3(rest.z, 0, 0);
            }};
}

} // namespace

class TestSharedMotion : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void threeShapesAreFoundAndAreEnough() {
        const AnalyticSource source = threeShapes();
        const bake::SamplePlan plan = bake::planSampling(source, {});
        const bake::SharedMotion shared =
            bake::shareMotion(source.mesh(), bake::Poses(source, plan), 10, false);
        QVERIFY2(shared.shapes >= 3 && shared.shapes <= 5, qPrintable(QString::number(shared.shapes)));
        QVERIFY(errorOf(source, shapesIn("float32", 3)).all.max < 2e-5);
        QVERIFY(errorOf(source, shapesIn("float32", 2)).all.max > 1e-4); // the smallest is missed
    }
    void weightsAreAtMostOne() {
        const AnalyticSource source = threeShapes();
        const bake::SamplePlan plan = bake::planSampling(source, {});
        const bake::SharedMotion shared =
            bake::shareMotion(source.mesh(), bake::Poses(source, plan), 3, false);
        for (std::size_t s = 0; s < 3; ++s) {
            float most = -2.0f;
            for (std::size_t f = 0; f < shared.frames; ++f) {
                const float weight = shared.weights[f * shared.shapes + s];
                most = std::max(most, weight);
                QVERIFY(std::abs(weight) <= 1.0f + 1e-6f);
            }
            QVERIFY(std::abs(most - 1.0f) < 1e-6f);
        }
    }
    void whatIsLeftIsTheTailOfTheSingularValues() {
        // Eckart and Young: the rms that k shapes leave is that of the other singular values, and no less.
        const AnalyticSource source(10, tests::sequence(16), tests::wave(0.37));
        double before = 1e9;
        for (const std::size_t shapes : {1u, 2u, 3u, 5u}) {
            const double rms = errorOf(source, shapesIn("float32", shapes)).all.rms;
            QVERIFY(rms <= before);
            before = rms;
        }
        // A travelling wave is two standing ones.
        QVERIFY(errorOf(source, shapesIn("float32", 2)).all.max < 2e-6);
    }
    void everyStoreOfShapesStaysNearTheExactOne() {
        const AnalyticSource source = threeShapes();
        // Three shapes with weights up to 1: each adds its own rounding.
        for (const char* store : {"half", "unorm16"}) {
            const bake::Baked baked = bake::bake(source, shapesIn(store, 3));
            const double bound =
                3.0 * static_cast<double>(
                          glm::length(baked.textures.positionStore.errorBound(baked.textures.ranges[0]))) +
                2e-5;
            QVERIFY2(errorOf(source, shapesIn(store, 3)).all.max < bound, store);
        }
    }
    void normalsComeAlongOrStayAtRest() {
        const AnalyticSource source(6, tests::sequence(10), tests::wave(1.3));
        bake::Recipe recipe = shapesIn("float32", 10);
        recipe.normalStore = "unorm8";
        QVERIFY(errorOf(source, recipe).normalMaxDegrees < 0.05); // as many shapes as frames: all there is
        recipe.normalStore = "none";
        QVERIFY(errorOf(source, recipe).normalMaxDegrees > 5.0);
        QCOMPARE(bake::bake(source, recipe).textures.textures.size(), std::size_t(2)); // shapes and weights
    }
    void noMotionIsOneEmptyShape() {
        const AnalyticSource still(4, tests::sequence(5), [](const glm::vec3& rest, double) { return rest; });
        const bake::Baked baked = bake::bake(still, shapesIn("unorm16", 8));
        QCOMPARE(baked.textures.layout.blocks, std::size_t(1));
        QCOMPARE(errorOf(still, shapesIn("unorm16", 8)).all.max, 0.0);
    }
    void twoEightBitTexturesAreRefused() {
        const AnalyticSource source = threeShapes();
        QVERIFY(tests::says(tests::problemOf([&] { bake::bake(source, shapesIn("unorm8x2", 3)); }),
                            "unorm8x2", "unorm16"));
        QVERIFY(
            tests::says(tests::problemOf([&] { bake::bake(source, shapesIn("half", 0)); }), "at least one"));
    }
    void threadsDoNotChangeTheBytes() {
        const AnalyticSource source(50, tests::sequence(30), tests::wave(0.4));
        const auto with = [&](std::size_t threads) {
            const base::ThreadLimit limit(threads);
            return bake::bake(source, shapesIn("half", 6)).textures.images;
        };
        QVERIFY(with(1) == with(2));
    }
};

static const ripple::tests::SuiteOf<TestSharedMotion> kSuite;
#include "test_shared_motion.moc"
