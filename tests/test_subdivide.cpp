// Test shapes, subdivision, triangulation: what a mesh is before it moves.

#include "gltf_fixture.h"
#include "mesh/bounds.h"
#include "mesh/drawing.h"
#include "mesh/faults.h"
#include "mesh/subdivide.h"
#include "mesh/test_shapes.h"
#include "mesh/triangulate.h"
#include "problem_of.h"
#include "source/open.h"
#include "source/shape_source.h"
#include "suite.h"

#include <QTemporaryDir>
#include <QTest>

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/geometric.hpp>
#include <glm/gtc/quaternion.hpp>

using namespace ripple;
using tests::says;

namespace {

double area(const mesh::Mesh& mesh) {
    double sum = 0.0;
    for (std::size_t i = 0; i < mesh.indices.size(); i += 3) {
        const glm::dvec3 a(mesh.positions[mesh.indices[i]]);
        sum += 0.5 * glm::length(glm::cross(glm::dvec3(mesh.positions[mesh.indices[i + 1]]) - a,
                                            glm::dvec3(mesh.positions[mesh.indices[i + 2]]) - a));
    }
    return sum;
}

} // namespace

class TestSubdivide : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void everyShapeIsSound_data() {
        QTest::addColumn<int>("row");
        for (std::size_t i = 0; i < mesh::testShapes().size(); ++i) {
            QTest::newRow(mesh::testShapes()[i].id) << static_cast<int>(i);
        }
    }
    void everyShapeIsSound() {
        QFETCH(int, row);
        const mesh::ShapeKind& kind = mesh::testShapes()[static_cast<std::size_t>(row)];
        const mesh::Mesh mesh = mesh::makeTestShape(kind.usual);
        QVERIFY(mesh.triangleCount() > 50);
        QCOMPARE(mesh.normals.size(), mesh.vertexCount());
        QCOMPARE(mesh.uvSets[0].size(), mesh.vertexCount());
        QVERIFY(mesh::degenerateTriangles(mesh).empty());
        mesh::Bounds bounds;
        bounds.add(mesh.positions);
        const glm::vec3 size = bounds.size();
        QVERIFY(std::abs(std::max({size.x, size.y, size.z}) - static_cast<float>(kind.usual.size)) < 1e-3f);
        for (std::size_t v = 0; v < mesh.vertexCount(); ++v) {
            QVERIFY(std::abs(glm::length(mesh.normals[v]) - 1.0f) < 1e-5f);
            QVERIFY(mesh.uvSets[0][v].x >= 0.0f && mesh.uvSets[0][v].y <= 1.0f);
        }
        // Faces turn the way their normals point.
        for (std::size_t i = 0; i < mesh.indices.size(); i += 3) {
            const glm::vec3 a = mesh.positions[mesh.indices[i]];
            const glm::vec3 face =
                glm::cross(mesh.positions[mesh.indices[i + 1]] - a, mesh.positions[mesh.indices[i + 2]] - a);
            QVERIFY(glm::dot(face, mesh.normals[mesh.indices[i + 1]]) > 0.0f);
        }
    }
    void theSheetHasTheCellsThatWereAskedFor() {
        const mesh::Mesh mesh = mesh::makeTestShape({"sheet", 3.0, 5, 7});
        QCOMPARE(mesh.vertexCount(), std::size_t(6 * 8));
        QCOMPARE(mesh.triangleCount(), std::size_t(2 * 5 * 7));
        QVERIFY(std::abs(area(mesh) - 9.0) < 1e-5);
    }
    void oddShapesAreProblems() {
        const auto making = [](const mesh::TestShape& shape) {
            return tests::problemOf([&] { mesh::makeTestShape(shape); });
        };
        QVERIFY(says(making({"teapot", 1.0, 4, 4}), "teapot", "sheet"));
        QVERIFY(says(making({"sheet", 0.0, 4, 4}), "size"));
        QVERIFY(says(making({"sheet", NAN, 4, 4}), "size"));
        QVERIFY(says(making({"sheet", 1.0, 0, 4}), "0 × 4"));
        QVERIFY(says(making({"sheet", 1.0, 4, 100000}), "1 to 512"));
    }
    void aShapeIsASourceOfOneStillPose() {
        const auto source = source::openTestShape({"dome", 1.0, 12, 6}, source::Reading{.subdivisions = 1});
        QCOMPARE(source->format(), std::string("test shape"));
        QCOMPARE(source->mesh().triangleCount(),
                 4 * mesh::makeTestShape({"dome", 1.0, 12, 6}).triangleCount());
    }
    void midpointsKeepTheSurface() {
        const mesh::Mesh coarse = mesh::makeTestShape({"cards-3", 1.0, 3, 4});
        mesh::Midpoints midpoints;
        const mesh::Mesh fine = mesh::subdivide(coarse, midpoints);
        QCOMPARE(fine.triangleCount(), 4 * coarse.triangleCount());
        QVERIFY(std::abs(area(fine) - area(coarse)) < 1e-5);
        // Old vertices first, untouched; new ones in the middle of an edge, UVs too.
        for (std::size_t v = 0; v < coarse.vertexCount(); ++v) {
            QCOMPARE(fine.positions[v], coarse.positions[v]);
            QCOMPARE(fine.normals[v], coarse.normals[v]);
        }
        for (std::size_t v = coarse.vertexCount(); v < fine.vertexCount(); ++v) {
            const auto [a, b] = midpoints.parents[v];
            QVERIFY(a != b);
            QCOMPARE(fine.positions[v], (coarse.positions[a] + coarse.positions[b]) * 0.5f);
            QCOMPARE(fine.uvSets[0][v], (coarse.uvSets[0][a] + coarse.uvSets[0][b]) * 0.5f);
        }
        // Shared edges share their midpoint: a sheet of 3 × 4 cells has that many edges.
        mesh::Midpoints ofSheet;
        const mesh::Mesh sheet = mesh::subdivide(mesh::makeTestShape({"sheet", 1.0, 3, 4}), ofSheet);
        QCOMPARE(sheet.vertexCount(), std::size_t(7 * 9));
    }
    void skinsAndMorphsAreInterpolated() {
        tests::GltfFixture f;
        const int joints = f.shorts({0, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0}, "VEC4", 4);
        const int weights = f.floats({1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0}, "VEC4", 4);
        f.mesh({{"POSITION", f.floats(tests::GltfFixture::triangle(), "VEC3", 3)},
                {"JOINTS_0", joints},
                {"WEIGHTS_0", weights}},
               f.shorts({0, 1, 2}, "SCALAR", 1));
        f.root["meshes"][0]["primitives"][0]["targets"] = {
            {{"POSITION", f.floats({0, 0, 0, 0, 0, 2, 0, 0, 0}, "VEC3", 3)}}};
        f.node({{"mesh", 0}, {"skin", 0}, {"weights", {0.5}}});
        f.node({{"name", "still"}});
        f.node({{"name", "up"}, {"translation", {0, 4, 0}}});
        f.root["scenes"][0]["nodes"] = {0, 1, 2};
        f.root["skins"] = {{{"joints", {1, 2}}}};
        QTemporaryDir dir;
        const auto source =
            source::open(f.write(dir.path().toStdString(), "s"), source::Reading{.subdivisions = 1});
        QCOMPARE(source->mesh().vertexCount(), std::size_t(6));
        std::vector<glm::vec3> p(6);
        std::vector<glm::vec3> n(6);
        source->sample(0, 0.0, p, n);
        // Vertex 3 lies between 0 (still) and 1 (up by 4, pushed by half of 2): half of each.
        const auto middle = std::find_if(p.begin() + 3, p.end(), [](const glm::vec3& x) {
            return x.x == 0.5f && x.z > 0.4f && x.y < 3.0f;
        });
        QVERIFY(middle != p.end());
        QCOMPARE(*middle, glm::vec3(0.5f, 2.0f, 0.5f));
        const auto index = static_cast<std::size_t>(middle - p.begin());
        QCOMPARE(source->jointWeights(1)[index], 0.5f);
        QCOMPARE(source->influences(), std::size_t(1)); // as in the file
    }
    void aDrawingOrderKeepsTheTriangles() {
        const mesh::Mesh mesh = mesh::makeTestShape({"sheet", 1.0, 40, 60});
        const auto sorted = [](const std::vector<std::uint32_t>& indices) {
            std::vector<std::array<std::uint32_t, 3>> triangles;
            for (std::size_t i = 0; i < indices.size(); i += 3) {
                std::array<std::uint32_t, 3> t = {indices[i], indices[i + 1], indices[i + 2]};
                std::rotate(t.begin(), std::min_element(t.begin(), t.end()), t.end()); // which way it winds
                triangles.push_back(t);
            }
            std::sort(triangles.begin(), triangles.end());
            return triangles;
        };
        QCOMPARE(sorted(mesh::drawingOrder(mesh)), sorted(mesh.indices));
    }
    void aFlatSheetIsCoarsenedEvenly() {
        // 2 × 100 × 100 triangles of 1 cm; an eighth of them would leave edges of some 3 cm.
        const mesh::Mesh mesh = mesh::makeTestShape({"sheet", 1.0, 100, 100});
        const mesh::Coarse coarse = mesh::coarsen(mesh, mesh.triangleCount() / 8);
        QCOMPARE(coarse.parts.size(), mesh.parts.size());
        const std::size_t triangles = coarse.indices.size() / 3;
        QVERIFY(triangles <= mesh.triangleCount() / 8 && triangles > mesh.triangleCount() / 12);
        double sum = 0.0;
        float longest = 0.0f;
        for (std::size_t i = 0; i < coarse.indices.size(); i += 3) {
            const glm::vec3 a = mesh.positions[coarse.indices[i]];
            const glm::vec3 b = mesh.positions[coarse.indices[i + 1]];
            const glm::vec3 c = mesh.positions[coarse.indices[i + 2]];
            sum += 0.5 * static_cast<double>(glm::length(glm::cross(b - a, c - a)));
            longest = std::max({longest, glm::distance(a, b), glm::distance(b, c), glm::distance(c, a)});
        }
        // No holes; a triangle that folds over counts twice, which is rare.
        QVERIFY2(std::abs(sum - area(mesh)) < 0.01 * area(mesh), qPrintable(QString::number(sum)));
        // Left to itself the simplifier makes edges of 20 cm in the middle of a flat sheet.
        QVERIFY2(longest < 0.15f, qPrintable(QString::number(static_cast<double>(longest))));
    }
    void polygonsAreCutInside() {
        // A comb with three teeth: 14 corners, most of them notches for a fan.
        const std::vector<glm::vec3> comb = {{0, 0, 0}, {5, 0, 0}, {5, 3, 0}, {4, 3, 0},
                                             {4, 1, 0}, {3, 1, 0}, {3, 3, 0}, {2, 3, 0},
                                             {2, 1, 0}, {1, 1, 0}, {1, 3, 0}, {0, 3, 0}};
        double sum = 0.0;
        const auto triangles = mesh::triangulate(comb);
        QCOMPARE(triangles.size(), comb.size() - 2);
        for (const auto& t : triangles) {
            const double twice =
                static_cast<double>(glm::cross(comb[t[1]] - comb[t[0]], comb[t[2]] - comb[t[0]]).z);
            QVERIFY(twice >= 0.0);
            sum += 0.5 * twice;
        }
        QVERIFY(std::abs(sum - 11.0) < 1e-6); // 5 × 3 less two slots of 1 × 2
        // A square stays the fan that it was; a knot gives as many triangles as any outline.
        QCOMPARE(mesh::triangulate(std::vector<glm::vec3>{{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}})[1],
                 (std::array<std::uint32_t, 3>{0, 2, 3}));
        QCOMPARE(mesh::triangulate(std::vector<glm::vec3>{{0, 0, 0}, {1, 1, 0}, {1, 0, 0}, {0, 1, 0}}).size(),
                 std::size_t(2));
    }
};

static const ripple::tests::SuiteOf<TestSubdivide> kSuite;
#include "test_subdivide.moc"
