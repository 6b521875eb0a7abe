// Tangents: carried along with the mesh, read, written, stored and decoded.

#include "analytic_source.h"
#include "bake/kind.h"
#include "bake/bake.h"
#include "bake/texture_reader.h"
#include "base/progress.h"
#include "bundle/check.h"
#include "bundle/read_bundle.h"
#include "bundle/write_bundle.h"
#include "mesh/faults.h"
#include "mesh/subdivide.h"
#include "mesh/tangents.h"
#include "mesh/test_shapes.h"
#include "problem_of.h"
#include "source/gltf_library.h"
#include "source/gltf_write.h"
#include "source/open.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <random>

#include <glm/geometric.hpp>
#include <glm/gtc/matrix_transform.hpp>

using namespace ripple;
using tests::AnalyticSource;

namespace {

/// A dome with tangents that lean at random, perpendicular to the normals.
mesh::Mesh dome(unsigned seed) {
    mesh::TestShape shape;
    shape.kind = "dome";
    mesh::Mesh mesh = mesh::makeTestShape(shape);
    std::mt19937 random(seed);
    std::normal_distribution<float> any;
    for (const glm::vec3& n : mesh.normals) {
        const glm::vec3 t = mesh::perpendicular({any(random), any(random), any(random)}, n);
        mesh.tangents.emplace_back(t, random() % 2 ? 1.0f : -1.0f);
    }
    return mesh;
}

float degreesBetween(const glm::vec3& a, const glm::vec3& b) {
    return glm::degrees(2.0f * std::asin(std::min(1.0f, 0.5f * glm::distance(a, b))));
}

/// A sheet that bends as it waves; its tangents run along X and must follow the wave.
class WavingSheet : public AnalyticSource {
public:
    WavingSheet() : AnalyticSource(9, tests::sequence(8), tests::wave(8.0 / 30.0)) {
        editMesh().tangents.assign(mesh().vertexCount(), glm::vec4(1, 0, 0, -1));
    }
    void sample(std::size_t clip, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        AnalyticSource::sample(clip, seconds, positions, normals);
        for (std::size_t v = 0; v < normals.size(); ++v) {
            // Across the slope between the neighbours in X, so that normal and surface agree.
            const std::size_t x = v % 9;
            const glm::vec3 way = positions[v + (x < 8)] - positions[v - (x > 0)];
            normals[v] = glm::normalize(glm::vec3(-way.y, way.x, 0.0f));
        }
    }
};

bake::Recipe recipeWith(const char* normals) {
    bake::Recipe recipe;
    recipe.normalStore = normals;
    recipe.tangents = true;
    recipe.maxWidth = 20;
    return recipe;
}

} // namespace

class TestTangents : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void rigidMotionTurnsThemExactly() {
        for (unsigned seed = 0; seed < 20; ++seed) {
            const mesh::Mesh mesh = dome(seed);
            const mesh::TangentBuilder builder(mesh);
            std::mt19937 random(seed);
            std::normal_distribution<float> any;
            const glm::mat4 turn = glm::rotate(glm::mat4(1.0f), any(random),
                                               glm::normalize(glm::vec3(any(random), 1, any(random))));
            std::vector<glm::vec3> positions;
            std::vector<glm::vec3> normals;
            for (std::size_t v = 0; v < mesh.vertexCount(); ++v) {
                positions.push_back(glm::mat3(turn) * mesh.positions[v] + glm::vec3(3, -1, 2));
                normals.push_back(glm::mat3(turn) * mesh.normals[v]);
            }
            std::vector<glm::vec3> tangents(mesh.vertexCount());
            builder.build(positions, normals, tangents);
            for (const std::uint32_t v : mesh.indices) { // the dome's top has vertices without triangles
                const glm::vec3 wanted = glm::mat3(turn) * glm::vec3(mesh.tangents[v]);
                QVERIFY2(degreesBetween(tangents[v], wanted) < 0.01f,
                         qPrintable(QString("seed %1 vertex %2: %3")
                                        .arg(seed)
                                        .arg(v)
                                        .arg(degreesBetween(tangents[v], wanted))));
            }
        }
    }
    void aShearTurnsThemAsItTurnsTheSurface() {
        AnalyticSource sheet(5, tests::timed(1.0), tests::drift(0.0f));
        sheet.editMesh().tangents.assign(25, glm::vec4(0, 0, 1, 1));
        const mesh::Mesh& mesh = sheet.mesh();
        std::vector<glm::vec3> positions;
        for (const glm::vec3& p : mesh.positions) {
            positions.push_back({p.x + 0.75f * p.z, p.y, 2.0f * p.z});
        }
        std::vector<glm::vec3> tangents(25);
        mesh::TangentBuilder(mesh).build(positions, mesh.normals, tangents);
        for (const glm::vec3& t : tangents) {
            QVERIFY(glm::distance(t, glm::normalize(glm::vec3(0.75f, 0.0f, 2.0f))) < 1e-6f);
        }
    }
    void theyStayPerpendicularAndFinite() {
        const mesh::Mesh mesh = dome(3);
        std::vector<glm::vec3> flat(mesh.vertexCount(), glm::vec3(1.0f)); // all in one point
        std::vector<glm::vec3> tangents(mesh.vertexCount());
        mesh::TangentBuilder(mesh).build(flat, mesh.normals, tangents);
        for (std::size_t v = 0; v < tangents.size(); ++v) {
            QVERIFY(std::abs(glm::length(tangents[v]) - 1.0f) < 1e-5f);
            QVERIFY(std::abs(glm::dot(tangents[v], mesh.normals[v])) < 1e-5f);
        }
    }
    void filesKeepThemThroughNodesAndMirrors() {
        QTemporaryDir dir;
        const std::filesystem::path file = std::filesystem::path(dir.path().toStdString()) / "t.glb";
        const mesh::Mesh mesh = dome(5);
        const auto read = [&](const std::vector<double>& rotation, const std::vector<double>& scale) {
            tinygltf::Model model = source::gltfModel(mesh, "dome", {});
            model.nodes[0].rotation = rotation;
            model.nodes[0].scale = scale;
            base::writeFile(file, source::glbBytes(model, "t.glb"));
            return source::open(file)->mesh();
        };
        const mesh::Mesh plain = read({}, {});
        const mesh::Mesh turned = read({0, std::sqrt(0.5), 0, std::sqrt(0.5)}, {}); // a quarter about Y
        const mesh::Mesh mirrored = read({}, {-1, 1, 1});
        QCOMPARE(plain.tangents.size(), mesh.vertexCount());
        for (std::size_t v = 0; v < mesh.vertexCount(); ++v) {
            const glm::vec3 t(mesh.tangents[v]);
            QVERIFY(degreesBetween(glm::vec3(plain.tangents[v]), t) < 0.01f);
            QVERIFY(degreesBetween(glm::vec3(turned.tangents[v]), {t.z, t.y, -t.x}) < 0.01f);
            QVERIFY(degreesBetween(glm::vec3(mirrored.tangents[v]), {-t.x, t.y, t.z}) < 0.01f);
            QCOMPARE(plain.tangents[v].w, mesh.tangents[v].w);
            QCOMPARE(mirrored.tangents[v].w, -mesh.tangents[v].w);
        }
    }
    void aPartWithoutThemLeavesNone() {
        mesh::Mesh mesh = dome(1);
        mesh.tangents.pop_back();
        mesh::requireWholeTangents(mesh);
        QVERIFY(mesh.tangents.empty());
    }
    void theyAreMadeFromUvs() {
        // A sheet whose U runs along (3, 0, 4) / 5 and whose V falls along the other edge.
        const glm::vec3 u(0.6f, 0.0f, 0.8f);
        const glm::vec3 v(0.8f, 0.0f, -0.6f);
        const std::vector<glm::vec3> positions = {{0, 0, 0}, 2.0f * u, 2.0f * u + v, v};
        const std::vector<glm::vec3> normals(4, glm::vec3(0, 1, 0));
        const std::vector<std::uint32_t> indices = {0, 1, 2, 0, 2, 3};
        std::vector<glm::vec2> uvs = {{0, 0}, {1, 0}, {1, 1}, {0, 1}};
        for (const float mirrored : {1.0f, -1.0f}) {
            for (glm::vec2& uv : uvs) {
                uv.y *= mirrored; // twice: once as it is, then the other way up
            }
            for (const glm::vec4& tangent : mesh::tangentsFromUvs(positions, normals, uvs, indices)) {
                QVERIFY(glm::distance(glm::vec3(tangent), u) < 1e-6f);
                // normal × tangent is v or −v; the bitangent leads to where V falls.
                const glm::vec3 bitangent = tangent.w * glm::cross(normals[0], glm::vec3(tangent));
                QVERIFY(glm::distance(bitangent, -mirrored * v) < 1e-6f);
            }
        }
        // UVs that lead nowhere leave a direction all the same.
        for (const glm::vec4& tangent :
             mesh::tangentsFromUvs(positions, normals, std::vector<glm::vec2>(4), indices)) {
            QVERIFY(std::abs(glm::length(glm::vec3(tangent)) - 1.0f) < 1e-6f);
            QVERIFY(std::abs(tangent.y) < 1e-6f);
        }
    }
    void theyComeAlongWhenTheMeshIsMended() {
        mesh::Mesh mesh = dome(2);
        mesh::Midpoints midpoints;
        const mesh::Mesh fine = mesh::subdivide(mesh, midpoints);
        QCOMPARE(fine.tangents.size(), fine.vertexCount());
        for (std::size_t v = 0; v < fine.vertexCount(); ++v) {
            QVERIFY(std::abs(glm::length(glm::vec3(fine.tangents[v])) - 1.0f) < 1e-5f);
            QCOMPARE(std::abs(fine.tangents[v].w), 1.0f);
        }
        // Two vertices that differ in nothing but their tangents stay two.
        mesh::Mesh pair;
        pair.positions.assign(2, glm::vec3(0.0f));
        pair.normals.assign(2, glm::vec3(0, 1, 0));
        pair.tangents = {glm::vec4(1, 0, 0, 1), glm::vec4(1, 0, 0, -1)};
        pair.parts = {{"pair", 0, 0, 2, 0, 0}};
        QCOMPARE(mesh::firstAlike(pair)[1], 1u);
        pair.tangents.clear();
        QCOMPARE(mesh::firstAlike(pair)[1], 0u);
    }
    void bakedOnesAreOffByNoMoreThanTheirStore_data() {
        QTest::addColumn<QString>("store");
        for (const bake::NormalStore& store : bake::normalStores()) {
            if (store.stored()) {
                QTest::addRow("%s", store.name) << store.name;
            }
        }
    }
    void bakedOnesAreOffByNoMoreThanTheirStore() {
        QFETCH(QString, store);
        const WavingSheet source;
        for (const bool alpha : {false, true}) {
            bake::Recipe recipe = recipeWith(qPrintable(store));
            recipe.positionStore = "unorm16";
            recipe.normalsInAlpha = alpha && store == "oct16";
            const bake::SamplePlan plan = bake::planSampling(source, recipe);
            const bake::Frames frames = bake::sampleFrames(source, plan);
            const bake::Baked baked = bake::encodeFrames(source, plan, frames, recipe);
            const bake::TextureReader reader = baked.reader(source.mesh());
            const mesh::TangentBuilder builder(source.mesh());
            std::vector<glm::vec3> wanted(81);
            std::vector<glm::vec3> read(81);
            for (std::size_t f = 0; f < frames.frames; ++f) {
                builder.build(frames.positionsOf(f), frames.normalsOf(f), wanted);
                reader.tangentsAt(baked.textures.clips[0], static_cast<float>(f), read);
                for (std::size_t v = 0; v < 81; ++v) {
                    QVERIFY(degreesBetween(read[v], wanted[v]) <=
                            baked.textures.normalStore.errorBoundDegrees + 0.02f);
                    // Along the wave: the slope in X, nothing in Z.
                    QVERIFY(std::abs(wanted[v].z) < 1e-5f && wanted[v].x > 0.3f);
                }
            }
            // Halfway between two frames lies the direction between theirs.
            std::vector<glm::vec3> next(81);
            reader.tangentsAt(baked.textures.clips[0], 2.0f, read);
            reader.tangentsAt(baked.textures.clips[0], 3.0f, next);
            reader.tangentsAt(baked.textures.clips[0], 2.5f, wanted);
            for (std::size_t v = 0; v < 81; ++v) {
                QVERIFY(glm::distance(wanted[v], glm::normalize(read[v] + next[v])) < 1e-5f);
            }
        }
    }
    void bundlesCarryThem() {
        QTemporaryDir dir;
        const std::filesystem::path folder = std::filesystem::path(dir.path().toStdString()) / "waves";
        const WavingSheet source;
        base::Progress progress;
        const bundle::Manifest written =
            bundle::writeBundle(source, recipeWith("oct16"), {}, folder, progress);
        QVERIFY(std::filesystem::exists(folder / "waves.tangent.png"));
        const bundle::Bundle read = bundle::readBundle(folder);
        QVERIFY(read.manifest.textures.tangents);
        QCOMPARE(read.manifest.textureFiles, written.textureFiles);
        QCOMPARE(read.mesh.tangents, source.mesh().tangents);
        const bake::Baked baked = bake::bake(source, recipeWith("oct16"));
        QVERIFY(read.textures.images == baked.textures.images);
        QVERIFY(bundle::check(folder, &source).ok());
        bake::Recipe without = recipeWith("oct16");
        without.tangents = false;
        QVERIFY(baked.textures.textureMemory() > bake::bake(source, without).textures.textureMemory());
    }
    void whatCannotBeStoredIsSaid() {
        const AnalyticSource plain(4, tests::sequence(4), tests::wave(1.0));
        QVERIFY(tests::says(tests::problemOf([&] { bake::bake(plain, recipeWith("oct16")); }), "tangents",
                            "the mesh has none"));
        const WavingSheet waving;
        QVERIFY(tests::says(tests::problemOf([&] { bake::bake(waving, recipeWith("none")); }), "tangents",
                            "choose a store for normals"));
        // Shapes and pieces store none, and say so.
        bake::Recipe shapes = recipeWith("oct16");
        shapes.kind = &bake::kShapes;
        QVERIFY(tests::says(tests::problemOf([&] { bake::bake(plain, shapes); }), "tangents",
                            "a bake of shapes"));
    }
};

static const ripple::tests::SuiteOf<TestTangents> kSuite;
#include "test_tangents.moc"
