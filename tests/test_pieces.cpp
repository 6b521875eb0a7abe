#include "bake/kind.h"
#include "bake/bake.h"
#include "bake/error.h"
#include "bake/pieces.h"
#include "base/parallel.h"
#include "base/progress.h"
#include "problem_of.h"
#include "source/open.h"
#include "suite.h"
#include "turning_pieces.h"

#include <QTest>

#include <set>

using namespace ripple;
using tests::AnalyticSource;
using tests::TurningPieces;

namespace {

bake::Recipe piecesIn(const char* store) {
    bake::Recipe recipe;
    recipe.kind = &bake::kPieces;
    recipe.positionStore = store;
    return recipe;
}

bake::ErrorReport errorOf(const source::FrameSource& source, const bake::Recipe& recipe) {
    const bake::SamplePlan plan = bake::planSampling(source, recipe);
    const bake::Baked baked = bake::bake(source, plan, recipe);
    const bake::TextureReader reader = baked.reader(source.mesh());
    return bake::measureError(source, plan, {}, reader, baked.textures.clips);
}

} // namespace

class TestPieces : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void turnsAndPlacesAreThoseOfTheFormula() {
        const TurningPieces source(5, 20);
        const bake::SamplePlan plan = bake::planSampling(source, {});
        const bake::Poses poses(source, plan);
        const bake::Pieces pieces = bake::findPieces(source.mesh(), poses);
        QCOMPARE(pieces.count(), std::size_t(5));
        QVERIFY(pieces.fit < 2e-6);
        for (std::size_t f = 0; f < 20; ++f) {
            for (std::size_t p = 0; p < 5; ++p) {
                const glm::quat wanted = TurningPieces::turnAt(p, plan.clips[0].seconds[f]);
                const glm::vec4 q = pieces.turns[f * 5 + p];
                // q and -q are the same turn.
                const float same =
                    std::abs(q.x * wanted.x + q.y * wanted.y + q.z * wanted.z + q.w * wanted.w);
                QVERIFY(same > 1.0f - 1e-6f);
                if (f > 0) {
                    QVERIFY(glm::dot(q, pieces.turns[(f - 1) * 5 + p]) > 0.0f); // the near one, for blending
                }
            }
        }
    }
    void partsThatMoveAlikeAreOnePiece() {
        // Every triangle of a sheet loose; the left half turns, the right half slides.
        AnalyticSource source(9, tests::sequence(8), [](const glm::vec3& rest, double seconds) {
            const auto t = static_cast<float>(seconds);
            return rest.x < -0.01f ? glm::angleAxis(3.0f * t, glm::vec3(0, 0, 1)) * rest
                                   : rest + glm::vec3(t, 0, 0);
        });
        mesh::Mesh& mesh = source.editMesh();
        const mesh::Mesh whole = mesh;
        mesh.positions.clear();
        mesh.normals.clear();
        mesh.uvSets.clear();
        std::vector<std::uint32_t> loose;
        for (std::size_t i = 0; i < whole.indices.size(); i += 3) {
            float left = 0.0f;
            for (std::size_t k = 0; k < 3; ++k) {
                left = std::min(left, whole.positions[whole.indices[i + k]].x);
            }
            for (std::size_t k = 0; k < 3; ++k) {
                glm::vec3 p = whole.positions[whole.indices[i + k]];
                p.x = left < -0.01f ? p.x - 0.02f : p.x; // no vertex of the left half on the line between
                mesh.positions.push_back(p);
                mesh.normals.push_back({0, 1, 0});
                loose.push_back(static_cast<std::uint32_t>(loose.size()));
            }
        }
        mesh.indices = loose;
        mesh.parts[0].vertexCount = static_cast<std::uint32_t>(loose.size());
        const bake::Baked baked = bake::bake(source, piecesIn("float32"));
        QCOMPARE(baked.textures.layout.columns, std::size_t(2));
        QVERIFY(errorOf(source, piecesIn("float32")).all.max < 2e-6);
    }
    void cratesComeBackWithinATenthOfAMillimetre() {
        const auto crates = source::open(std::filesystem::path(DEMO_FOLDER) / "crates.pc2", {}, {});
        const bake::Baked baked = bake::bake(*crates, piecesIn("unorm16"));
        QCOMPARE(baked.textures.layout.columns, std::size_t(10)); // crates, of 1 140 loose faces
        for (const char* store : {"float32", "unorm16", "unorm8x2"}) {
            const bake::ErrorReport error = errorOf(*crates, piecesIn(store));
            QVERIFY2(error.all.max < 1e-4, qPrintable(QString("%1: %2 m").arg(store).arg(error.all.max)));
            QVERIFY2(error.normalMaxDegrees < 0.02, store);
        }
        // A hundredth of what every vertex in every frame takes.
        bake::Recipe vertices;
        vertices.positionStore = "unorm16";
        QVERIFY(baked.textures.textureMemory() * 100 <
                bake::bake(*crates, vertices).textures.textureMemory());
    }
    void aWholeMeshAsOnePieceIsSaid() {
        const TurningPieces source(1);
        const bake::Baked baked = bake::bake(source, piecesIn("half"));
        QCOMPARE(baked.textures.layout.columns, std::size_t(1));
        QVERIFY(tests::has(baked.findings, "one-piece"));
        QVERIFY(errorOf(source, piecesIn("float32")).all.max < 2e-6);
    }
    void whatBendsIsRefusedWithThePlace() {
        const AnalyticSource source(8, tests::sequence(9), tests::wave(1.0));
        QVERIFY(tests::says(tests::problemOf([&] { bake::bake(source, piecesIn("half")); }), "the mesh bends",
                            "vertex", "frame", "shared shapes"));
    }
    void mirroredPartsAreNotTurned() {
        // A flat part that flips over keeps its handedness: Kabsch must not answer with a mirror image.
        AnalyticSource source(3, tests::sequence(7), [](const glm::vec3& rest, double seconds) {
            return glm::angleAxis(15.0f * static_cast<float>(seconds), glm::vec3(1, 0, 0)) * rest;
        });
        QVERIFY(errorOf(source, piecesIn("float32")).all.max < 2e-6);
    }
    void threadsDoNotChangeTheBytes() {
        const TurningPieces source(6, 30);
        const auto with = [&](std::size_t threads) {
            const base::ThreadLimit limit(threads);
            return bake::bake(source, piecesIn("unorm16")).textures.images;
        };
        QVERIFY(with(1) == with(2));
    }
};

static const ripple::tests::SuiteOf<TestPieces> kSuite;
#include "test_pieces.moc"
