#include "demo/cloth.h"
#include "suite.h"

#include <QTest>

#include <cmath>

#include <glm/geometric.hpp>

using namespace ripple;

namespace {

glm::vec3 calm(const glm::vec3&, double) {
    return glm::vec3(0.0f);
}

/// One square metre, level, as two triangles.
demo::Cloth square() {
    return demo::Cloth({{0, 0, 0}, {1, 0, 0}, {1, 0, 1}, {0, 0, 1}}, {0, 2, 1, 0, 3, 2}, 0.5f);
}

} // namespace

class TestCloth : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void edgeOnItFallsAsThingsFall() {
        // Standing on edge it moves along its own plane, where air has no hold: g·t²/2, less a little
        // friction.
        demo::Cloth cloth({{0, 0, 0}, {1, 0, 0}, {1, 1, 0}, {0, 1, 0}}, {0, 1, 2, 0, 2, 3}, 0.5f);
        cloth.advance(0.2, 200, &calm);
        const float fallen = -cloth.positions()[0].y;
        QVERIFY2(fallen > 0.9f * 0.5f * 9.81f * 0.04f * 0.8f && fallen < 0.5f * 9.81f * 0.04f * 1.01f,
                 qPrintable(QString::number(fallen)));
    }
    void flatItIsHeldByTheAir() {
        demo::Cloth flat = square();
        flat.advance(2.0, 1000, &calm);
        const float before = flat.positions()[0].y;
        flat.advance(1.0, 500, &calm);
        const float speed = before - flat.positions()[0].y;
        // It sinks at an even pace, where the air's push (ρ/2·v²) and friction carry its weight of 0.5 kg/m².
        const float terminal = std::sqrt(0.5f * 9.81f / (0.5f * 1.2f));
        QVERIFY2(speed > 0.4f && speed < terminal, qPrintable(QString::number(speed)));
    }
    void pinsHoldAndLinksKeepTheirLength() {
        demo::Cloth rope({{0, 0, 0}, {0, 0, 1}, {0.02f, 0, 0.5f}}, {0, 1, 2}, 0.5f);
        rope.pin(0);
        rope.join(0, 1, 1.0f, 0.0f);
        rope.join(1, 2, glm::distance(rope.positions()[1], rope.positions()[2]), 0.0f);
        rope.join(0, 2, glm::distance(rope.positions()[0], rope.positions()[2]), 0.0f);
        rope.advance(3.0, 3000, &calm);
        QCOMPARE(rope.positions()[0], glm::vec3(0.0f));
        QVERIFY(std::abs(glm::distance(rope.positions()[0], rope.positions()[1]) - 1.0f) < 0.01f);
        QVERIFY(rope.positions()[1].y < -0.3f); // it hangs
    }
    void windPushesAlongTheNormal() {
        demo::Cloth cloth = square();
        cloth.advance(0.05, 50, [](const glm::vec3&, double) { return glm::vec3(6.0f, 6.0f, 0.0f); });
        demo::Cloth still = square();
        still.advance(0.05, 50, &calm);
        QVERIFY(cloth.positions()[0].y > still.positions()[0].y); // lifted by the part across it
        QVERIFY(std::abs(cloth.positions()[0].x) < 1e-3f);        // and not dragged by the part along it
    }
    void heavierPartsMoveLess() {
        demo::Cloth light = square();
        demo::Cloth heavy = square();
        for (std::uint32_t p = 0; p < 4; ++p) {
            heavy.weigh(p, 10.0f);
        }
        const auto gust = [](const glm::vec3&, double) { return glm::vec3(0.0f, 12.0f, 0.0f); };
        light.advance(0.05, 50, gust);
        heavy.advance(0.05, 50, gust);
        QVERIFY(light.positions()[0].y > heavy.positions()[0].y + 0.01f);
    }
    void theSameAgain() {
        demo::Cloth a = square();
        demo::Cloth b = square();
        const auto gust = [](const glm::vec3& p, double t) {
            return glm::vec3(p.x, 3.0 * std::sin(t), 1.0f);
        };
        a.advance(0.5, 100, gust);
        b.advance(0.5, 100, gust);
        for (std::size_t p = 0; p < 4; ++p) {
            QCOMPARE(a.positions()[p], b.positions()[p]);
        }
    }
};

static const ripple::tests::SuiteOf<TestCloth> kSuite;
#include "test_cloth.moc"
