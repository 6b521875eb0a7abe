// What can be wrong with a mesh at rest, and the mesh without it.

#include "mesh/bounds.h"
#include "mesh/faults.h"
#include "mesh/places.h"
#include "mesh/test_shapes.h"
#include "mesh/uv_sets.h"
#include "suite.h"

#include <QTest>

#include <numeric>

using namespace ripple;

namespace {

mesh::Mesh triangles(std::vector<glm::vec3> positions, std::vector<std::uint32_t> indices) {
    mesh::Mesh mesh;
    mesh.normals.assign(positions.size(), glm::vec3(0, 0, 1));
    mesh.positions = std::move(positions);
    mesh.indices = std::move(indices);
    mesh::Part part;
    part.vertexCount = static_cast<std::uint32_t>(mesh.vertexCount());
    part.indexCount = static_cast<std::uint32_t>(mesh.indices.size());
    mesh.parts.push_back(part);
    mesh.materials.emplace_back();
    return mesh;
}

std::vector<std::uint32_t> themselves(std::size_t count) {
    std::vector<std::uint32_t> numbers(count);
    std::iota(numbers.begin(), numbers.end(), 0u);
    return numbers;
}

} // namespace

class TestMeshFaults : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void placesAreCounted() {
        const std::vector<glm::vec3> points = {{1, 0, 0},     {0, 2, 0}, {1, 0, 0},
                                               {1, 0, 1e-7f}, {0, 2, 0}, {1, 0, 0}};
        QCOMPARE(mesh::placesOf(points), (std::vector<std::uint32_t>{0, 1, 0, 2, 1, 0}));
        QCOMPARE(mesh::firstInPlace(points), (std::vector<std::uint32_t>{0, 1, 0, 3, 1, 0}));
        QVERIFY(mesh::placesOf({}).empty() && mesh::firstInPlace({}).empty());
    }
    void trianglesWithoutArea_data() {
        QTest::addColumn<float>("height");
        QTest::addColumn<int>("found");
        QTest::newRow("on a line") << 0.0f << 1;
        QTest::newRow("a hair above it") << 1e-7f << 1;
        QTest::newRow("thin but real") << 1e-3f << 0;
        QTest::newRow("not a number") << std::nanf("") << 1;
    }
    void trianglesWithoutArea() {
        QFETCH(float, height);
        QFETCH(int, found);
        for (const float scale : {1e-4f, 1.0f, 1e5f}) { // size does not matter
            const mesh::Mesh mesh =
                triangles({{0, 0, 0}, {scale, 0, 0}, {0.5f * scale, height * scale, 0}}, {0, 1, 2});
            QCOMPARE(static_cast<int>(mesh::degenerateTriangles(mesh).size()), found);
        }
    }
    void cornersAlikeAreNoTriangle() {
        const mesh::Mesh mesh = triangles({{0, 0, 0}, {1, 0, 0}, {0, 1, 0}}, {0, 1, 2, 0, 1, 1, 2, 2, 0});
        QCOMPARE(mesh::degenerateTriangles(mesh), (std::vector<std::uint32_t>{1, 2}));
    }
    void alikeMeansInEverything() {
        mesh::Mesh mesh =
            triangles({{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {1, 0, 0}, {1, 0, 0}, {1, 0, 0}}, {0, 1, 2, 3, 4, 5});
        QCOMPARE(mesh::firstAlike(mesh), (std::vector<std::uint32_t>{0, 1, 2, 1, 1, 1}));
        mesh.normals[3] = {1, 0, 0};
        mesh.uvSets = {std::vector<glm::vec2>(6, glm::vec2(0.0f))};
        mesh.uvSets[0][4] = {0.5f, 0};
        QCOMPARE(mesh::firstAlike(mesh), (std::vector<std::uint32_t>{0, 1, 2, 3, 4, 1}));
        mesh.colours.assign(6, glm::vec4(1.0f));
        mesh.colours[5].g = 0.0f;
        QCOMPARE(mesh::firstAlike(mesh), (std::vector<std::uint32_t>{0, 1, 2, 3, 4, 5}));
    }
    void partsDoNotShareVertices() {
        mesh::Mesh mesh =
            triangles({{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 0}, {1, 0, 0}, {0, 1, 0}}, {0, 1, 2, 3, 4, 5});
        mesh.parts[0].vertexCount = mesh.parts[0].indexCount = 3;
        mesh.parts.push_back(mesh.parts[0]);
        mesh.parts[1].firstVertex = mesh.parts[1].firstIndex = 3;
        QCOMPARE(mesh::firstAlike(mesh), themselves(6));
        // A part of nothing but dropped triangles goes whole, and the other keeps its numbers in order.
        std::vector<std::uint32_t> kept;
        const mesh::Mesh rest = mesh::without(mesh, {1, 0}, themselves(6), std::vector<char>(6, 0), kept);
        QCOMPARE(rest.parts.size(), std::size_t(1));
        QCOMPARE(kept, (std::vector<std::uint32_t>{3, 4, 5}));
        QCOMPARE(rest.indices, (std::vector<std::uint32_t>{0, 1, 2}));
        QCOMPARE(rest.parts[0].firstVertex, 0u);
    }
    void everythingOnTheVerticesComesAlong() {
        mesh::Mesh mesh = mesh::makeTestShape({"sheet", 1.0, 2, 2});
        mesh.colours.assign(9, glm::vec4(0.5f));
        mesh.colours[8] = glm::vec4(1.0f);
        mesh.smoothGroup = themselves(9);
        std::vector<std::uint32_t> replacement = themselves(9);
        replacement[1] = 0;
        std::vector<char> dropped(9, 0);
        dropped[4] = 1; // the middle: its triangles go first
        std::vector<char> gone(mesh.triangleCount(), 0);
        for (std::size_t t = 0; t < gone.size(); ++t) {
            for (std::size_t k = 0; k < 3; ++k) {
                gone[t] = static_cast<char>(gone[t] | (mesh.indices[3 * t + k] == 4));
            }
        }
        std::vector<std::uint32_t> kept;
        const mesh::Mesh rest = mesh::without(mesh, gone, replacement, dropped, kept);
        QCOMPARE(kept, (std::vector<std::uint32_t>{0, 2, 3, 5, 6, 7, 8}));
        QCOMPARE(rest.vertexCount(), std::size_t(7));
        QCOMPARE(rest.colours[6], glm::vec4(1.0f));
        QCOMPARE(rest.uvSets[0][1], mesh.uvSets[0][2]);
        QCOMPARE(rest.smoothGroup[6], 8u);
        for (const std::uint32_t index : rest.indices) {
            QVERIFY(index < 7);
        }
    }
    void overlapIsMeasuredByTexels() {
        // Two unit squares on a set of their own halves, then one laid half over the other.
        mesh::Mesh mesh = triangles(
            {{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}, {2, 0, 0}, {3, 0, 0}, {3, 1, 0}, {2, 1, 0}},
            {0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7});
        const auto layout = [](float left) {
            return std::vector<glm::vec2>{{0, 0},    {0.5f, 0},        {0.5f, 1},        {0, 1},
                                          {left, 0}, {left + 0.5f, 0}, {left + 0.5f, 1}, {left, 1}};
        };
        mesh.uvSets = {layout(0.5f), layout(0.25f), layout(0.0f)};
        const auto facts = mesh::uvSetFacts(mesh);
        QCOMPARE(facts[0].overlap, 0.0); // a shared edge belongs to one side
        QVERIFY(std::abs(facts[1].overlap - 1.0 / 3.0) < 0.01);
        QVERIFY(facts[2].overlap > 0.99);
        QCOMPARE(facts[0].outside, std::size_t(0));
        mesh.uvSets[0][5] = {1.5f, 0};
        mesh.uvSets[0][6] = {std::nanf(""), 0};
        QCOMPARE(mesh::uvSetFacts(mesh)[0].outside, std::size_t(2));
    }
    void unusedVerticesAreThoseOfNoTriangle() {
        const mesh::Mesh mesh = triangles({{0, 0, 0}, {1, 0, 0}, {5, 5, 5}, {0, 1, 0}}, {0, 1, 3});
        QCOMPARE(mesh::unusedVertices(mesh), std::vector<std::uint32_t>{2});
    }
};

static const ripple::tests::SuiteOf<TestMeshFaults> kSuite;
#include "test_mesh_faults.moc"
