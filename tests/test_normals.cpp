#include "mesh/bounds.h"
#include "mesh/normals.h"
#include "suite.h"

#include <QTest>

#include <cmath>
#include <random>

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
            QCOMPARE(normal, glm::vec3(0.0f)); // no direction
        }
    }
    void anglesAreAsExactAsTheFormulaInDoublePrecision() {
        // A wavy sheet with thin and wide triangles, against the same sums in double precision.
        std::mt19937 random(5);
        std::uniform_real_distribution<float> unit(0.0f, 1.0f);
        constexpr std::uint32_t kSide = 40;
        std::vector<glm::vec3> p;
        for (std::uint32_t i = 0; i < kSide * kSide; ++i) {
            const float x = static_cast<float>(i % kSide) + 0.45f * unit(random);
            const float z = static_cast<float>(i / kSide) + 0.45f * unit(random);
            p.push_back({0.02f * x, 0.1f * std::sin(0.4f * x) + 0.02f * std::cos(2.0f * z), z});
        }
        std::vector<std::uint32_t> t;
        for (std::uint32_t z = 0; z + 1 < kSide; ++z) {
            for (std::uint32_t x = 0; x + 1 < kSide; ++x) {
                const std::uint32_t a = z * kSide + x;
                t.insert(t.end(), {a, a + kSide, a + 1, a + 1, a + kSide, a + kSide + 1});
            }
        }
        const auto n = build(t, p);
        std::vector<glm::dvec3> wanted(p.size(), glm::dvec3(0.0));
        for (std::size_t i = 0; i < t.size(); i += 3) {
            const glm::dvec3 c[3] = {p[t[i]], p[t[i + 1]], p[t[i + 2]]};
            const glm::dvec3 area = glm::cross(c[1] - c[0], c[2] - c[0]);
            for (std::size_t k = 0; k < 3; ++k) {
                const glm::dvec3 u = c[(k + 1) % 3] - c[k];
                const glm::dvec3 v = c[(k + 2) % 3] - c[k];
                wanted[t[i + k]] += area * std::atan2(glm::length(area), glm::dot(u, v));
            }
        }
        double worst = 0.0;
        for (std::size_t v = 0; v < p.size(); ++v) {
            worst = std::max(worst, glm::distance(glm::normalize(wanted[v]), glm::dvec3(n[v])));
        }
        QVERIFY2(worst < 2e-6, qPrintable(QString::number(worst))); // a ten-thousandth of a degree
    }
    void surfacesThatCancelHaveNoDirection() {
        // The same triangle from both sides; and a sliver that rounding leaves a little area.
        const auto n = build({0, 1, 2, 0, 2, 1}, {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}});
        QCOMPARE(n[0], glm::vec3(0.0f));
        const auto sliver = build({0, 1, 2}, {{100, 0, 0}, {101, 0, 0}, {102, 1e-6f, 0}});
        QCOMPARE(sliver[1], glm::vec3(0.0f));
        const auto thin = build({0, 1, 2}, {{0, 0, 0}, {1, 0, 0}, {2, 1e-3f, 0}});
        QVERIFY(near(thin[1], {0, 0, 1}));
    }
    void fileNormalsAreMadeUnitOrNone() {
        std::vector<glm::vec3> n = {{0, 0, 2}, {0, 0, 0}, {0, 1, 0}, {NAN, 0, 0}};
        const mesh::NormalFaults faults = mesh::makeUnit(n);
        QCOMPARE(faults.missing, std::size_t(2));
        QCOMPARE(faults.length, std::size_t(1));
        QCOMPARE(n[0], glm::vec3(0, 0, 1));
        QCOMPARE(n[3], glm::vec3(0.0f));
        QCOMPARE(mesh::filledNormals(n)[1], glm::vec3(0, 1, 0));
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

static const ripple::tests::SuiteOf<TestNormals> kSuite;
#include "test_normals.moc"
