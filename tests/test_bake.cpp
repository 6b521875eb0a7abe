#include "analytic_source.h"
#include "bake/kind.h"
#include "bake/bake.h"
#include "bake/error.h"
#include "bake/texture_reader.h"
#include "base/parallel.h"
#include "base/progress.h"
#include "problem_of.h"
#include "suite.h"
#include "turning_pieces.h"

#include <QTest>

#include <random>

#include <glm/vector_relational.hpp>

using namespace ripple;
using tests::AnalyticSource;

namespace {

bake::Recipe recipeOf(const char* store, bake::Content content, std::size_t width = 2048) {
    bake::Recipe recipe;
    recipe.positionStore = store;
    recipe.content = content;
    recipe.maxWidth = width;
    return recipe;
}

bake::TextureReader readerOf(const bake::Baked& baked, const source::FrameSource& source) {
    return {baked.textures, baked.columnOfVertex, source.mesh().positions, source.mesh().normals};
}

/// A drifting sheet in which one vertex has a normal, or none.
class UndirectedSource : public tests::AnalyticSource {
public:
    explicit UndirectedSource(bool none)
        : AnalyticSource(3, tests::sequence(4), tests::drift(0.5f)),
          none_(none) {}
    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        AnalyticSource::sample(clip, seconds, positions, normals);
        if (none_ && !normals.empty()) {
            normals[4] = glm::vec3(0.0f);
        }
    }

private:
    bool none_;
};

} // namespace

class TestBake : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void everyStoreAndContentReadsBack_data() {
        QTest::addColumn<QString>("store");
        QTest::addColumn<bool>("offset");
        QTest::addColumn<int>("width");
        for (const bake::PositionStore& store : bake::positionStores()) {
            for (const bool offset : {false, true}) {
                for (const int width : {7, 64, 2048}) { // many rows a frame, some, one
                    QTest::addRow("%s %s %d", store.name, offset ? "offset" : "absolute", width)
                        << QString(store.name) << offset << width;
                }
            }
        }
    }
    void everyStoreAndContentReadsBack() {
        QFETCH(QString, store);
        QFETCH(bool, offset);
        QFETCH(int, width);
        // A moving mesh far from the origin: rest + offset must round well there too.
        AnalyticSource source(9, tests::timed(1.0, 20.0), [](const glm::vec3& rest, double seconds) {
            return tests::wave(1.0)(rest, seconds) +
                   glm::vec3(0, 0, 0.1f * static_cast<float>(std::cos(6.283185307179586 * seconds)));
        });
        for (glm::vec3& p : source.editMesh().positions) {
            p += glm::vec3(30, 0, 0);
        }
        const bake::Recipe recipe =
            recipeOf(qPrintable(store), offset ? bake::Content::offset : bake::Content::absolute,
                     static_cast<std::size_t>(width));
        const bake::SamplePlan plan = bake::planSampling(source, recipe);
        const bake::Frames frames = bake::sampleFrames(source, plan);
        const bake::Baked baked = bake::encodeFrames(source, plan, frames, recipe);
        QCOMPARE(baked.textures.layout.blocks, std::size_t(20));
        QVERIFY(baked.textures.layout.width <= static_cast<std::size_t>(width));
        const glm::vec3 bound = baked.textures.positionStore.errorBound(baked.textures.ranges[0]) +
                                glm::vec3(8e-6f); // and 30 m's float step
        const auto reader = readerOf(baked, source);
        std::vector<glm::vec3> p(81);
        std::vector<glm::vec3> n(81);
        for (std::size_t f = 0; f < 20; ++f) {
            reader.frame(f, p, n);
            for (std::size_t v = 0; v < 81; ++v) {
                QVERIFY(glm::all(glm::lessThanEqual(glm::abs(p[v] - frames.positionsOf(f)[v]), bound)));
                QVERIFY(glm::dot(n[v], frames.normalsOf(f)[v]) > std::cos(0.39f * 3.14159f / 180.0f) - 1e-6f);
            }
        }
    }
    void betweenFramesIsTheBlendOfBoth() {
        const AnalyticSource source(4, tests::timed(1.0, 10.0), tests::wave(1.0));
        const bake::Baked baked = bake::bake(source, recipeOf("float32", bake::Content::absolute));
        const auto reader = readerOf(baked, source);
        std::vector<glm::vec3> a(16), b(16), between(16), n(16);
        reader.frame(9, a, n);
        reader.frame(0, b, n);
        reader.at(baked.textures.clips[0], 9.25f, between, n); // over the seam
        for (std::size_t v = 0; v < 16; ++v) {
            QVERIFY(glm::distance(between[v], 0.75f * a[v] + 0.25f * b[v]) < 1e-6f);
            QVERIFY(std::abs(glm::length(n[v]) - 1.0f) < 1e-5f);
        }
    }
    void whatNeverMovesSharesOneColumn() {
        // Half of the sheet is held still; its normals are the same all over.
        AnalyticSource source(8, tests::sequence(5), [](const glm::vec3& rest, double seconds) {
            return rest.x < 0.0f ? rest : rest + glm::vec3(0, rest.x * static_cast<float>(seconds), 0);
        });
        bake::Recipe recipe = recipeOf("half", bake::Content::offset);
        recipe.normalStore = "none";
        const bake::Baked offset = bake::bake(source, recipe);
        // 4 still columns of 8 as one; each moving x moves alike in all 8 rows.
        QCOMPARE(offset.textures.layout.columns, std::size_t(1 + 4));
        recipe.content = bake::Content::absolute;
        QCOMPARE(bake::bake(source, recipe).textures.layout.columns, std::size_t(64));
    }
    void withoutNormalsTheRestPosesAreRead() {
        const AnalyticSource source(3, tests::sequence(4), tests::drift(1.0f));
        bake::Recipe recipe = recipeOf("half", bake::Content::offset);
        recipe.normalStore = "none";
        const bake::Baked baked = bake::bake(source, recipe);
        QVERIFY(!baked.textures.find(bake::kNormal));
        QCOMPARE(baked.textures.textures.size(), std::size_t(1));
        std::vector<glm::vec3> p(9), n(9);
        readerOf(baked, source).frame(2, p, n);
        QCOMPARE(n[4], glm::vec3(0, 1, 0));
    }
    void aFlatAxisAndNoMotionAtAll() {
        const AnalyticSource still(3, tests::sequence(4), [](const glm::vec3& rest, double) { return rest; });
        for (const bake::PositionStore& store : bake::positionStores()) {
            const bake::Baked baked = bake::bake(still, recipeOf(store.name, bake::Content::offset));
            std::vector<glm::vec3> p(9), n(9);
            readerOf(baked, still).frame(2, p, n); // the fourth repeats the first and is not stored
            QCOMPARE(p, still.mesh().positions);
        }
    }
    void boundsAreThoseOfAllMotion() {
        const AnalyticSource source(3, tests::sequence(31), tests::drift(2.0f));
        const bake::Baked baked = bake::bake(source, recipeOf("half", bake::Content::offset));
        QCOMPARE(baked.bounds.min, glm::vec3(-1, 0, -1));
        QVERIFY(glm::distance(baked.bounds.max, glm::vec3(3, 0, 1)) < 1e-6f);
    }
    void halfRefusesWhatItCannotHold() {
        const AnalyticSource source(3, tests::sequence(4), tests::drift(2e6f));
        QVERIFY(tests::says(
            tests::problemOf([&] { bake::bake(source, recipeOf("half", bake::Content::offset)); }), "half",
            "65504"));
    }
    void oneAndTwoThreadsGiveTheSameBytes() {
        const AnalyticSource source(60, tests::timed(1.0, 24.0), tests::wave(1.0));
        const bake::Recipe recipe = recipeOf("unorm16", bake::Content::offset, 512);
        const auto withThreads = [&](std::size_t threads) {
            const base::ThreadLimit limit(threads);
            return bake::bake(source, recipe);
        };
        const bake::Baked one = withThreads(1);
        const bake::Baked two = withThreads(2);
        QVERIFY(one.textures.images == two.textures.images);
        QCOMPARE(one.columnOfVertex, two.columnOfVertex);
    }
    void cancelStopsABake() {
        const AnalyticSource source(10, tests::timed(1.0), tests::wave(1.0));
        base::Progress progress;
        progress.cancel();
        QVERIFY_EXCEPTION_THROWN(bake::bake(source, {}, progress), base::Cancelled);
    }
    void textureMemoryCountsFourChannels() {
        const AnalyticSource source(8, tests::sequence(10), tests::wave(9.0));
        const bake::Baked baked = bake::bake(source, recipeOf("half", bake::Content::absolute));
        QCOMPARE(baked.textures.textureMemory(), std::size_t(64 * 10 * (4 * 2 + 4)));
    }
    void whatAKindDoesNotStoreIsRefusedByName() {
        const tests::TurningPieces source(2);
        const auto refused = [&](const bake::Kind* kind, const auto& change) {
            bake::Recipe recipe;
            recipe.kind = kind;
            recipe.normalStore = "oct16";
            recipe.positionStore = "unorm16";
            change(recipe);
            return tests::problemOf([&] { bake::bake(source, recipe); });
        };
        const auto tangents = [](bake::Recipe& r) { r.tangents = true; };
        const auto alpha = [](bake::Recipe& r) { r.normalsInAlpha = true; };
        const auto absolute = [](bake::Recipe& r) { r.content = bake::Content::absolute; };
        QVERIFY(tests::says(refused(&bake::kPieces, tangents), "tangents", "pieces"));
        QVERIFY(tests::says(refused(&bake::kShapes, tangents), "tangents", "shapes"));
        QVERIFY(tests::says(refused(&bake::kPieces, alpha), "normals in alpha", "pieces"));
        QVERIFY(tests::says(refused(&bake::kShapes, alpha), "normals in alpha", "shapes"));
        QVERIFY(tests::says(refused(&bake::kShapes, absolute), "absolute", "offsets"));
        // Another kind chosen in the window or tried by the ladder leaves them away.
        bake::Recipe recipe;
        recipe.tangents = recipe.normalsInAlpha = true;
        recipe.content = bake::Content::absolute;
        recipe.positionStore = "unorm8x2";
        const bake::Recipe shapes = bake::withKind(recipe, bake::kShapes);
        QVERIFY(!shapes.tangents && !shapes.normalsInAlpha && shapes.content == bake::Content::offset);
        QCOMPARE(shapes.positionStore, std::string("unorm16"));
        QCOMPARE(bake::withKind(recipe, bake::kPieces).content, bake::Content::absolute);
    }
    void normalsWithoutADirectionAreCountedNotMeasured() {
        const auto reports = [&](bool flat) {
            UndirectedSource undirected(flat);
            bake::Recipe recipe;
            const bake::SamplePlan plan = bake::planSampling(undirected, recipe);
            const bake::Baked baked = bake::bake(undirected, plan, recipe);
            const bake::TextureReader reader(baked.textures, baked.columnOfVertex,
                                             undirected.mesh().positions, undirected.mesh().normals);
            return bake::measureError(undirected, plan, {}, reader, baked.textures.clips);
        };
        QCOMPARE(reports(false).normalsUndefined, std::size_t(0));
        const bake::ErrorReport report = reports(true);
        QCOMPARE(report.normalsUndefined, std::size_t(4)); // one vertex in four frames
        QVERIFY(report.normalMaxDegrees < 0.4);
    }
};

static const ripple::tests::SuiteOf<TestBake> kSuite;
#include "test_bake.moc"
