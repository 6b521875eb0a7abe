#include "source/skinning.h"
#include "suite.h"

#include <QTest>

#include <cmath>
#include <random>

#include <glm/geometric.hpp>
#include <glm/gtc/matrix_transform.hpp>
#include <glm/matrix.hpp>

using namespace ripple;

namespace {

double away(const glm::vec3& a, const glm::dvec3& b) {
    return glm::distance(glm::dvec3(a), b);
}

} // namespace

class TestSkinning : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void oneJointQuarterTurn() {
        // 90° about Z, then 2 m up: (1, 0, 0) goes to (0, 1, 0) + (0, 2, 0).
        const glm::mat4 m = glm::rotate(glm::translate(glm::mat4(1.0f), {0, 2, 0}), 1.57079633f, {0, 0, 1});
        const source::SkinWeights weights{4, {0, 0, 0, 0}, {1, 0, 0, 0}};
        const std::vector<glm::vec3> rest = {{1, 0, 0}};
        const std::vector<glm::vec3> restNormal = {{1, 0, 0}};
        std::vector<glm::vec3> p(1);
        std::vector<glm::vec3> n(1);
        source::skin(weights, std::span(&m, 1), rest, restNormal, p, n);
        QVERIFY(away(p[0], {0, 3, 0}) < 1e-6);
        QVERIFY(away(n[0], {0, 1, 0}) < 1e-6);
    }
    void halfAndHalfIsTheMean() {
        const std::vector<glm::mat4> palette = {glm::mat4(1.0f), glm::translate(glm::mat4(1.0f), {4, 0, 0})};
        const source::SkinWeights weights{4, {0, 1, 0, 0}, {0.25f, 0.75f, 0, 0}};
        std::vector<glm::vec3> p(1);
        std::vector<glm::vec3> n(1);
        const std::vector<glm::vec3> rest = {{1, 1, 1}};
        const std::vector<glm::vec3> restNormal = {{0, 0, 1}};
        source::skin(weights, palette, rest, restNormal, p, n);
        QCOMPARE(p[0], glm::vec3(4, 1, 1));
        QCOMPARE(n[0], glm::vec3(0, 0, 1));
    }
    void normalsOfUnevenScaleGoByTheCofactor() {
        // A 45° slope under a scale of (1, 2, 1): the surface steepens, its normal turns toward X.
        const glm::mat4 m = glm::scale(glm::mat4(1.0f), {1, 2, 1});
        std::vector<glm::vec3> p(1);
        std::vector<glm::vec3> n(1);
        const std::vector<glm::vec3> rest = {{0, 0, 0}};
        const std::vector<glm::vec3> restNormal = {glm::normalize(glm::vec3(1, 1, 0))};
        source::transform(m, rest, restNormal, p, n);
        QVERIFY(away(n[0], glm::normalize(glm::dvec3(2, 1, 0))) < 1e-6);
    }
    void agreesWithDoublePrecision_data() {
        QTest::addColumn<int>("influences");
        QTest::newRow("4 influences") << 4;
        QTest::newRow("8 influences") << 8;
    }
    void agreesWithDoublePrecision() {
        QFETCH(int, influences);
        const auto k = static_cast<std::size_t>(influences);
        std::mt19937 random(7);
        std::uniform_real_distribution<float> unit(-1.0f, 1.0f);
        std::vector<glm::mat4> palette;
        for (int j = 0; j < 20; ++j) {
            glm::mat4 m = glm::rotate(glm::mat4(1.0f), 3.0f * unit(random),
                                      glm::normalize(glm::vec3(unit(random), unit(random), 1.5f)));
            m = glm::scale(m, glm::vec3(1.2f + 0.5f * unit(random)));
            m[3] = glm::vec4(unit(random), unit(random), unit(random), 1.0f);
            palette.push_back(m);
        }
        source::SkinWeights weights;
        weights.influences = k;
        std::vector<glm::vec3> rest;
        std::vector<glm::vec3> unposedNormals;
        for (int v = 0; v < 500; ++v) {
            rest.emplace_back(unit(random), unit(random), unit(random));
            unposedNormals.push_back(glm::normalize(glm::vec3(unit(random), unit(random), 1.1f)));
            for (std::size_t i = 0; i < k; ++i) {
                weights.joints.push_back(static_cast<std::uint16_t>(random() % palette.size()));
                weights.weights.push_back(std::abs(unit(random)));
            }
        }
        source::normaliseWeights(weights);
        std::vector<glm::vec3> p(rest.size());
        std::vector<glm::vec3> n(rest.size());
        source::skin(weights, palette, rest, unposedNormals, p, n);
        for (std::size_t v = 0; v < rest.size(); ++v) {
            glm::dmat4 blended(0.0);
            for (std::size_t i = 0; i < k; ++i) {
                blended += static_cast<double>(weights.weights[v * k + i]) *
                           glm::dmat4(palette[weights.joints[v * k + i]]);
            }
            const glm::dvec3 position(blended * glm::dvec4(glm::dvec3(rest[v]), 1.0));
            // Another road to the same normal: that of a small triangle on the surface, posed.
            const glm::dmat3 linear(blended);
            const glm::dvec3 n0(unposedNormals[v]);
            const glm::dvec3 u = glm::normalize(
                glm::cross(n0, std::abs(n0.x) < 0.7 ? glm::dvec3(1, 0, 0) : glm::dvec3(0, 1, 0)));
            const glm::dvec3 normal = glm::normalize(glm::cross(linear * u, linear * glm::cross(n0, u)));
            QVERIFY(away(p[v], position) < 2e-6);
            QVERIFY2(away(n[v], normal) < 2e-4, qPrintable(QString::number(away(n[v], normal))));
        }
    }
    void weightsAreMadeToAddUp() {
        source::SkinWeights weights{
            4, std::vector<std::uint16_t>(12), {0.5f, 0.5f, 0, 0, 0.5f, 0.25f, 0, 0, 0, 0, 0, NAN}};
        const source::WeightRepair repair = source::normaliseWeights(weights);
        QCOMPARE(repair.vertices, std::size_t(1));
        QCOMPARE(repair.largestError, 0.25f);
        QCOMPARE(repair.unweighted, std::size_t(1));
        QCOMPARE(weights.weights[4], 0.5f / 0.75f);
        QCOMPARE(weights.weights[8], 1.0f);
        QCOMPARE(weights.weights[11], 0.0f);
    }
};

static const ripple::tests::SuiteOf<TestSkinning> kSuite;
#include "test_skinning.moc"
