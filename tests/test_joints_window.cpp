// Joints, clips and their transitions on the Bake bench in the real window, by mouse and keyboard.

#include "app/benches/bake/clip_rows.h"
#include "app/benches/bake/transition_line.h"
#include "app/charts/texture_sheet.h"
#include "app/dial/dial.h"
#include "app/look/number_field.h"
#include "app/look/segmented_choice.h"
#include "app/look/theme.h"
#include "app/window/main_window.h"
#include "app/window/pictures.h"
#include "bake/kind.h"
#include "bake/transitions.h"
#include "own_places.h"
#include "real_window.h"
#include "suite.h"

#include <QApplication>
#include <QSettings>
#include <QTest>

using namespace ripple;
using namespace ripple::app;

class TestJointsWindow : public QObject {
    Q_OBJECT

    std::unique_ptr<MainWindow> window_;

    Session& session() { return window_->session(); }
    const bake::Recipe& recipe() { return session().document().recipe; }
    template <typename T>
    T* find(const QString& name = {}) {
        return window_->findChild<T*>(name);
    }
    bool idle() { return waitUntilIdle(*window_); }
    void clickSegment(const QString& choice, int index) {
        auto* segments = find<SegmentedChoice>(choice);
        QVERIFY(segments && segments->isVisible());
        const auto buttons = segments->findChildren<QAbstractButton*>();
        QTest::mouseClick(buttons[index], Qt::LeftButton);
        QVERIFY(idle());
    }
    void type(const char* field, const QString& words) {
        auto* box = find<NumberField>(field);
        QVERIFY(box && box->isVisible());
        box->setFocus();
        box->selectAll();
        QTest::keyClicks(box, words);
        QTest::keyClick(box, Qt::Key_Return);
        QVERIFY(idle());
    }
    void drag(QWidget* widget, const QPointF& from, const QPointF& to) {
        tests::drag(*widget, from, to);
        QVERIFY(idle());
    }
    void undo() {
        tests::pressKey(*window_, Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(idle());
    }
    QStringList bakedClips() {
        QStringList names;
        for (const bake::BakedClip& clip : session().bake()->baked.textures.clips) {
            names << QString::fromStdString(clip.name);
        }
        return names;
    }
    void showStates() { window_->bench(1).showStrip(3); }

private Q_SLOTS:
    void initTestCase() {
        tests::keepPlacesApart();
        QSettings().clear();
        applyTheme(*qApp, ThemeKind::dusk);
        window_ = tests::shownWindow();
        window_->openPath(tests::ownDemo("heron.curly"));
        QVERIFY(idle());
        window_->showBench(1);
        QVERIFY(idle());
    }
    void cleanupTestCase() { window_.reset(); }

    void kindAndFormsAreChosenAndUndone() {
        const project::Document before = session().document();
        clickSegment("kind", 3);
        QVERIFY(recipe().kind == &bake::kJoints);
        const auto bake = session().bake();
        QVERIFY(bake);
        QCOMPARE(bake->baked.textures.joints.joints, std::size_t(23));
        QVERIFY(bake->error.all.max < session().tolerance());
        clickSegment("jointForm", 2);
        QVERIFY(session().bake()->baked.textures.joints.matrix);
        undo();
        QVERIFY(!session().bake()->baked.textures.joints.matrix);
        clickSegment("influences", 1);
        QCOMPARE(session().bake()->baked.textures.joints.influences, std::size_t(8));
        undo();
        clickSegment("influencesIn", 1);
        QCOMPARE(session().bake()->baked.textures.images.size(), std::size_t(1));
        undo();
        QCOMPARE(session().bake()->baked.textures.images.size(), std::size_t(2));
        type("oversampling", "2");
        QCOMPARE(recipe().oversampling, std::optional<std::size_t>(2));
        QCOMPARE(session().bake()->baked.textures.clips[0].frames, std::size_t(84));
        undo();
        QVERIFY(!recipe().oversampling);
        undo();
        QVERIFY(recipe().kind == before.recipe.kind);
        clickSegment("kind", 3);
    }
    void theDecodedSideShowsWhatTheSourceShows() {
        session().look([](project::View& view) { view.curtain = 0.0; });
        session().playhead().setClipIndex(1);
        session().playhead().setFrame(120.0);
        QVERIFY(idle());
        const QImage decoded = window_->stage()->picture();
        session().look([](project::View& view) { view.curtain = 1.0; });
        QVERIFY(idle());
        const QImage source = window_->stage()->picture();
        QVERIFY2(tests::difference(decoded, source) < 0.5,
                 qPrintable(QString::number(tests::difference(decoded, source))));
        session().playhead().setFrame(0.0);
        QVERIFY(idle());
        QVERIFY(tests::difference(window_->stage()->picture(), source) > 1.0);
        session().look([](project::View& view) { view.curtain = 0.5; });
    }
    void theSheetTellsJointsAndInfluences() {
        window_->bench(1).showStrip(1);
        auto* sheet = find<TextureSheet>();
        QVERIFY(sheet && sheet->isVisible());
        const auto said = [&](int texture, const QPointF& part) {
            SheetChoice choice;
            const bake::TextureSet& set = session().bake()->baked.textures;
            choice.quantity = set.textures[static_cast<std::size_t>(texture)].quantity;
            sheet->choose(choice);
            idle();
            QTest::mouseMove(sheet, {static_cast<int>(part.x() * sheet->width()), 40});
            const auto spot = sheet->spotAt({part.x() * sheet->width(), part.y() * sheet->height()});
            return spot ? sheet->readout(*spot) : QString();
        };
        QVERIFY2(said(0, {0.5, 0.05}).contains("joint"), qPrintable(said(0, {0.5, 0.05})));
        QVERIFY(said(0, {0.5, 0.05}).contains("stroll, frame"));
        QVERIFY2(said(1, {0.5, 0.2}).contains("%"), qPrintable(said(1, {0.5, 0.2})));
        clickSegment("influencesIn", 1);
        QVERIFY(said(0, {0.9, 0.7}).contains("joint"));
        undo();
    }
    void clipsAreOrderedByDragAndByKeys() {
        auto* rows = find<ClipRows>("clipRows");
        QVERIFY(rows && rows->isVisible());
        QCOMPARE(rows->rowCount(), std::size_t(3));
        QCOMPARE(bakedClips(), QStringList({"stroll", "peck", "preen"}));
        drag(rows, rows->grip(2).center(), rows->grip(0).center() - QPointF(0, 10));
        QCOMPARE(bakedClips(), QStringList({"preen", "stroll", "peck"}));
        QVERIFY(rows->words(0).startsWith("preen"));
        undo();
        QCOMPARE(bakedClips(), QStringList({"stroll", "peck", "preen"}));
        rows->setFocus();
        QTest::mouseClick(rows, Qt::LeftButton, {}, rows->nameBox(0).center().toPoint());
        QTest::keyClick(rows, Qt::Key_Down, Qt::AltModifier);
        QVERIFY(idle());
        QCOMPARE(bakedClips(), QStringList({"peck", "stroll", "preen"}));
        undo();
    }
    void clipsAreTickedTrimmedAndRenamed() {
        auto* rows = find<ClipRows>("clipRows");
        QTest::mouseClick(rows, Qt::LeftButton, {}, rows->tickBox(1).center().toPoint());
        QVERIFY(idle());
        QCOMPARE(bakedClips(), QStringList({"stroll", "preen"}));
        undo();
        QCOMPARE(bakedClips().size(), qsizetype(3));

        const QRectF bar = rows->bar(1);
        const std::size_t whole = session().bake()->baked.textures.clips[1].frames;
        drag(rows, {bar.right(), bar.center().y()}, {bar.center().x(), bar.center().y()});
        QVERIFY(recipe().clips[1].window);
        QVERIFY(session().bake()->baked.textures.clips[1].frames < whole * 6 / 10);
        undo();
        QCOMPARE(session().bake()->baked.textures.clips[1].frames, whole);
        rows->setFocus();
        QTest::mouseClick(rows, Qt::LeftButton, {}, rows->nameBox(1).center().toPoint());
        QTest::keyClick(rows, Qt::Key_Left);
        QVERIFY(idle());
        QCOMPARE(session().bake()->baked.textures.clips[1].frames, whole - 4);
        undo();

        QTest::mouseDClick(rows, Qt::LeftButton, {}, rows->nameBox(1).center().toPoint());
        auto* name = find<QLineEdit>("clipName");
        QVERIFY(name->isVisible());
        name->selectAll();
        QTest::keyClicks(name, "jab");
        QTest::keyClick(name, Qt::Key_Return);
        QVERIFY(idle());
        QCOMPARE(bakedClips(), QStringList({"stroll", "jab", "preen"}));
        QCOMPARE(session().bake()->baked.textures.clips[1].sourceName, std::string("peck"));
        undo();
        QCOMPARE(bakedClips(), QStringList({"stroll", "peck", "preen"}));
    }
    void aClipHasARateOfItsOwn() {
        session().playhead().setClipIndex(1);
        QVERIFY(idle());
        const auto& clips = [&]() -> const auto& {
            return session().bake()->baked.textures.clips;
        };
        const double others = clips()[0].fps;
        type("clipRate", "15");
        QCOMPARE(recipe().clips[1].fps, 15.0);
        QCOMPARE(clips()[1].fps, 60.0); // four frames for each
        QCOMPARE(clips()[0].fps, others);
        undo();
        QCOMPARE(clips()[1].fps, 120.0);
    }
    void aTransitionIsPlayedByTheShippedCode() {
        showStates();
        auto* line = find<TransitionLine>("transitionLine");
        QVERIFY(line && line->isVisible());
        TransitionPlayer& player = session().transition();
        QVERIFY(player.chosen() && !player.shown());
        QVERIFY(find<Dial>("dial")->accessibleDescription().contains("stroll → peck"));
        const auto at = [&](double seconds) {
            QTest::mouseClick(line, Qt::LeftButton, {},
                              QPointF(line->placeOf(seconds), line->height() / 2.0 - 20).toPoint());
            idle();
            return window_->stage()->picture();
        };
        const QImage before = at(player.fadeStart() - 0.1);
        QCOMPARE(player.moment()->progress, 0.0);
        const QImage middle = at(player.fadeStart() + 0.5 * player.length());
        QVERIFY(std::abs(player.moment()->progress - 0.5) < 0.05);
        const QImage after = at(player.fadeStart() + player.length() + 0.1);
        QCOMPARE(player.moment()->progress, 1.0);
        QVERIFY(tests::difference(before, middle) > 0.3);
        QVERIFY(tests::difference(middle, after) > 0.3);

        // Keys move the hand, and Space plays.
        line->setFocus();
        const double was = player.seconds();
        QTest::keyClick(line, Qt::Key_Left);
        QVERIFY(player.seconds() < was);
        QTest::keyClick(line, Qt::Key_Space);
        QVERIFY(player.playing());
        QTRY_VERIFY(player.seconds() != was - 0.05);
        QTest::keyClick(line, Qt::Key_Space);
        QVERIFY(!player.playing());
    }
    void itsLengthIsDraggedTypedAndUndone() {
        showStates();
        auto* line = find<TransitionLine>("transitionLine");
        const double before = session().transition().length();
        QCOMPARE(before, bake::kUsualFade);
        const QPointF end = line->wedgeEnd();
        drag(line, end, end + QPointF(40, 0));
        QCOMPARE(recipe().transitions.size(), std::size_t(1));
        QVERIFY(recipe().transitions[0].seconds > before + 0.1);
        QCOMPARE(recipe().transitions[0].from, std::string("stroll"));
        undo();
        QVERIFY(recipe().transitions.empty());
        QCOMPARE(session().transition().length(), before);
        type("fadeLength", "0.5");
        QCOMPARE(session().transition().length(), 0.5);
        const auto& all = session().bake()->baked.textures.transitions;
        QCOMPARE(all.size(), std::size_t(6));
        QCOMPARE(all[0].seconds, 0.5);
        QCOMPARE(all[1].seconds, bake::kUsualFade);
        undo();
    }
    void endingsAndSpeedsOfStates() {
        showStates();
        clickSegment("ending peck", 1);
        QCOMPARE(recipe().clips[1].ending, std::optional(bake::Ending::once));
        QCOMPARE(session().bake()->baked.textures.clips[1].ending, bake::Ending::once);
        undo();
        QCOMPARE(session().bake()->baked.textures.clips[1].ending, bake::Ending::hold);
        type("speedTo stroll", "0.8");
        QVERIFY(recipe().clips[0].speed);
        QCOMPARE(recipe().clips[0].speed->most, 0.8);
        undo();
        window_->bench(1).showStrip(1);
        QVERIFY(!session().transition().chosen());
    }
    void curvesAreOfferedOnlyWhereTheyHelp() {
        window_->bench(1).showStrip(0);
        clickSegment("kind", 0);
        QVERIFY(waitForLadder(*window_));
        bool helps = false;
        for (const bake::Rung& rung : session().ladder()->rungs) {
            helps =
                helps || (rung.recipe.blend == bake::Blend::cubic && rung.recipe.kind == &bake::kVertices &&
                          rung.recipe.step == 1 && bake::oversamplingOf(rung.recipe) == 1);
        }
        QTRY_COMPARE(find<SegmentedChoice>("blend")->isVisible(), helps);
        if (helps) {
            const double straight = session().bake()->error.all.max;
            clickSegment("blend", 1);
            QVERIFY(session().bake()->error.all.max < straight);
            undo();
        }
        undo();
    }
};

static const ripple::tests::SuiteOf<TestJointsWindow> kSuite;
#include "test_joints_window.moc"
