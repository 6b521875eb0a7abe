#include "mesh/bounds.h"
#include "mesh/normals.h"

#include <QTest>

#include <cmath>

#include <glm/geometric.hpp>

using namespace ripple;

namespace {

std::vector<glm::vec3> build(const std::vector<std::uint32_t>& indices,
                             const std::vector<glm::vec3>& positions,
                             const std::vector<std::uint32_t>& groups = {}) {
    std::vector<glm::vec3> normals(positions.size());
    mesh::NormalBuilder(indices, positions.size(), groups).build(positions, normals);
    return normals;
}

bool near(const glm::vec3& a, const glm::vec3& b) {
    return glm::distance(a, b) < 1e-6f;
}

} // namespace

class TestNormals : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void groupsSmoothAndTheirAbsenceKeepsEdges() {
        // Two unit squares' halves at a right angle, each with vertices of its own along the edge.
        const std::vector<glm::vec3> p = {{0, 0, 0}, {0, 0, 1}, {1, 0, 0}, {0, 0, 0}, {0, 1, 0}, {0, 0, 1}};
        const std::vector<std::uint32_t> t = {0, 1, 2, 3, 4, 5};
        const auto hard = build(t, p);
        QVERIFY(near(hard[0], {0, 1, 0}));
        QVERIFY(near(hard[3], {1, 0, 0}));
        const auto smooth = build(t, p, {0, 1, 2, 0, 3, 1});
        QVERIFY(near(smooth[0], glm::normalize(glm::vec3(1, 1, 0))));
        QVERIFY(near(smooth[3], smooth[0]));
        QVERIFY(near(smooth[2], {0, 1, 0}));
    }
    void howAFlatFaceIsCutDoesNotMatter() {
        // A cube's corner: one side as one triangle, the other two cut into two at that corner.
        const std::vector<glm::vec3> p = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}, {0, 1, 1}, {1, 0, 1}};
        const std::vector<std::uint32_t> t = {0, 2, 1, /**/ 0, 3, 4, 0, 4, 2, /**/ 0, 1, 5, 0, 5, 3};
        const auto n = build(t, p);
        // Angle × area: 90° of ½ m² against twice 45° of ½ m² … : the same weight for all three sides.
        QVERIFY(near(n[0], glm::normalize(glm::vec3(-1, -1, -1))));
    }
    void largerFacesWeighMore() {
        const std::vector<glm::vec3> p = {{0, 0, 0}, {0, 0, 1}, {3, 0, 0}, {0, 1, 0}};
        const auto n = build({0, 1, 2, 0, 3, 1}, p);
        QVERIFY(near(n[0], glm::normalize(glm::vec3(1, 3, 0))));
    }
    void degenerateTrianglesDoNoHarm() {
        const auto n = build({0, 1, 2, 0, 0, 0}, {{0, 0, 0}, {1, 0, 0}, {2, 0, 0}});
        for (const glm::vec3& normal : n) {
            QCOMPARE(normal, glm::vec3(0, 1, 0));
        }
    }
    void boundsStartEmptyAndJoin() {
        mesh::Bounds a;
        QVERIFY(a.empty());
        QCOMPARE(a.size(), glm::vec3(0.0f));
        a.add(glm::vec3(1, 2, 3));
        mesh::Bounds b;
        b.add(glm::vec3(-2, 2, 5));
        a.add(b);
        QCOMPARE(a.size(), glm::vec3(3, 0, 2));
        QCOMPARE(a.centre(), glm::vec3(-0.5f, 2, 4));
    }
};

QTEST_GUILESS_MAIN(TestNormals)
#include "test_normals.moc"
