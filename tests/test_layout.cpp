#include "bake/layout.h"
#include "bake/texture_set.h"
#include "problem_of.h"
#include "suite.h"

#include <QTest>

#include <cmath>

using namespace ripple;

class TestLayout : public QObject {
    Q_OBJECT
private Q_SLOTS:
    void rowsPerBlockWhenColumnsExceedTheWidth() {
        const bake::Layout layout = bake::makeLayout(4225, 96, {2048, false});
        QCOMPARE(layout.rowsPerBlock, std::size_t(3));
        QCOMPARE(layout.width, std::size_t(1409));
        QCOMPARE(layout.height(), std::size_t(288));
        QCOMPARE(layout.x(1409), std::size_t(0));
        QCOMPARE(layout.y(5, 1409), std::size_t(16));
        QCOMPARE(layout.y(5, 4224), std::size_t(17));
    }
    void lookupsAreTexelCentresAndComeBack() {
        for (const std::size_t columns : {1ul, 2ul, 3ul, 100ul, 4225ul, 16384ul, 65536ul}) {
            const bake::Layout layout = bake::makeLayout(columns, 120, {16384, false});
            for (std::size_t c = 0; c < columns; ++c) {
                const glm::vec2 uv = layout.lookupUv(c);
                QCOMPARE(layout.columnAt(uv), c);
                // A quarter of a texel away it is still the same texel: room for an importer's rounding.
                const glm::vec2 quarter(0.25f / static_cast<float>(layout.width),
                                        0.25f / static_cast<float>(layout.height()));
                QCOMPARE(layout.columnAt(uv + quarter), c);
                QCOMPARE(layout.columnAt(uv - quarter), c);
            }
        }
        const bake::Layout one = bake::makeLayout(4, 2, {4, false});
        QCOMPARE(one.lookupUv(1), glm::vec2(0.375f, 0.25f));
    }
    void outsideIsNoColumn() {
        const bake::Layout layout = bake::makeLayout(10, 4, {16, false});
        QVERIFY(layout.columnAt({1.2f, 0.1f}) >= layout.columns);
        QVERIFY(layout.columnAt({0.5f, 0.9f}) >= layout.columns);
        QVERIFY(layout.columnAt({NAN, 0.1f}) >= layout.columns);
    }
    void limitsAreProblems() {
        QVERIFY(tests::says(tests::problemOf([] {
                                bake::makeLayout(5000, 6000, {2048, false});
                            }),
                            "height", "18\u202f000"));
        QVERIFY(tests::says(tests::problemOf([] { bake::makeLayout(10, 10, {20000, false}); }), "20000"));
        QVERIFY(tests::says(tests::problemOf([] {
                                bake::makeLayout(10, 0, {2048, false});
                            }),
                            "no columns or no frames"));
    }
    void closedClipsWrapOpenOnesClamp() {
        bake::BakedClip clip;
        clip.firstFrame = 10;
        clip.frames = 4;
        clip.closed = true;
        struct Want {
            float frame;
            std::size_t first;
            std::size_t second;
            float fraction;
        };
        for (const Want& w :
             {Want{0, 10, 11, 0}, Want{1.25f, 11, 12, 0.25f}, Want{3.5f, 13, 10, 0.5f}, Want{4, 10, 11, 0},
              Want{-0.5f, 13, 10, 0.5f}, Want{9.75f, 11, 12, 0.75f}, Want{-1e-9f, 10, 11, 0}}) {
            const bake::FramePair pair = bake::framePair(clip, w.frame);
            QCOMPARE(pair.first, w.first);
            QCOMPARE(pair.second, w.second);
            QCOMPARE(pair.fraction, w.fraction);
        }
        clip.closed = false;
        for (const Want& w :
             {Want{-3, 10, 11, 0}, Want{2.5f, 12, 13, 0.5f}, Want{3, 13, 13, 0}, Want{7, 13, 13, 0}}) {
            const bake::FramePair pair = bake::framePair(clip, w.frame);
            QCOMPARE(pair.first, w.first);
            QCOMPARE(pair.second, w.second);
            QCOMPARE(pair.fraction, w.fraction);
        }
        clip.frames = 1;
        QCOMPARE(bake::framePair(clip, 5.0f).second, std::size_t(10));
    }
};

static const ripple::tests::SuiteOf<TestLayout> kSuite;
#include "test_layout.moc"
