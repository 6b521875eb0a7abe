// The Bake bench in the real window, by mouse and keyboard.

#include "bake/kind.h"
#include "app/benches/bake/errors_page.h"
#include "app/benches/bake/ladder_page.h"
#include "app/benches/bake/sheet_page.h"
#include "app/session/bench_state.h"
#include "app/window/main_window.h"
#include "app/window/pictures.h"
#include "app/look/theme.h"
#include "base/units.h"
#include "own_places.h"
#include "real_window.h"
#include "suite.h"

#include <QApplication>
#include <QSettings>
#include <QTest>

#include <qcustomplot.h>

using namespace ripple;
using namespace ripple::app;

namespace {

QString demo(const char* file) {
    return tests::ownDemo(file);
}

} // namespace

class TestBakeWindow : public QObject {
    Q_OBJECT

    tests::SharedWindow window_;

    Session& session() { return window_->session(); }
    template <typename T>
    T* find(const QString& name = {}) {
        return window_->findChild<T*>(name);
    }
    bool idle() { return waitUntilIdle(*window_) && waitForLadder(*window_); }
    void openAndWait(const QString& file) {
        window_->openPath(file);
        QVERIFY(idle());
        window_->showBench(1);
        QVERIFY(idle());
    }
    void key(Qt::Key k, Qt::KeyboardModifiers m = Qt::NoModifier) { tests::pressKey(*window_, k, m); }
    void clickSegment(const QString& choice, int index) {
        auto* segments = find<SegmentedChoice>(choice);
        QVERIFY(segments && segments->isVisible());
        const auto buttons = segments->findChildren<QAbstractButton*>();
        QTest::mouseClick(buttons[index], Qt::LeftButton);
        QVERIFY(idle());
    }
    void type(const char* field, const QString& words) {
        auto* box = find<NumberField>(field);
        QVERIFY(box);
        box->setFocus();
        box->selectAll();
        QTest::keyClicks(box, words);
        QTest::keyClick(box, Qt::Key_Return);
        QVERIFY(idle());
    }
    /// Undo and redo give the very documents before and after.
    void undoesAndRedoes(const project::Document& before) {
        const project::Document after = session().document();
        const auto same = [](const project::Document& a, project::Document b) {
            b.view = a.view;
            return a == b;
        };
        QVERIFY(!same(before, after));
        key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(same(before, session().document()));
        key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(same(after, session().document()));
        QVERIFY(idle());
    }
    QImage stagePicture() {
        idle();
        QTest::qWait(80);
        return window_->stage()->picture();
    }

private Q_SLOTS:
    void initTestCase() {
        tests::keepPlacesApart();
        QSettings().clear();
        applyTheme(*qApp, ThemeKind::dusk);
    }
    void init() { window_.begin(); }
    void cleanup() { window_.end(); }
    void cleanupTestCase() { window_.close(); }

    void theWindowsHandlesAreDraggedOnTheErrors() {
        openAndWait(demo("crab.glb"));
        window_->bench(1).showStrip(2);
        QVERIFY(idle());
        FrameChart* chart = find<ErrorsPage>()->frames();
        QWidget* plot = chart->findChildren<QWidget*>().first();
        const auto kept = session().keptWindow();
        QVERIFY(kept);
        const std::size_t last = kept->frames - 1;
        const project::Document before = session().document();
        const QPoint from = chart->handleAt(false);
        QTest::mousePress(plot, Qt::LeftButton, {}, from);
        for (int step = 1; step <= 8; ++step) {
            QTest::mouseMove(plot, from - QPoint(20 * step, 0));
            QTest::qWait(10);
        }
        QTest::mouseRelease(plot, Qt::LeftButton, {}, from - QPoint(160, 0));
        QVERIFY(idle());
        const bake::FrameWindow window = session().keptWindow()->window;
        QCOMPARE(window.first, std::size_t(0));
        QVERIFY(window.last > last / 2 && window.last < last);
        QCOMPARE(session().bake()->baked.textures.clips[0].length(), window.last + 1);
        // Errors are drawn where they lie in the whole clip; beyond the window there are none.
        QVERIFY(chart->shownValue(0, 1) > 0.0);
        QCOMPARE(chart->shownValue(0, static_cast<int>(last)), 0.0);
        session().undoStack().undo(); // one drag, one step
        QVERIFY(session().document() == before);
    }
    void theWindowStaysWithin1280Pixels() {
        openAndWait(demo("brief.curly"));
        QCOMPARE(window_->size(), QSize(1280, 800));
        for (int page = 0; page < 3; ++page) {
            window_->bench(1).showStrip(page);
            QVERIFY(idle());
            QVERIFY(window_->minimumSizeHint().width() <= 1280);
        }
    }
    void theCheapestIsTakenByOneClick() {
        window_->bench(1).showStrip(0); // the ladder
        openAndWait(demo("crates.curly"));
        session().edit("vertices", [](project::Document& d) { d.recipe.kind = &bake::kVertices; });
        QVERIFY(idle());
        const auto ladder = session().ladder();
        QVERIFY(ladder && ladder->complete());
        const std::size_t before = session().bake()->baked.textures.textureMemory();
        const project::Document document = session().document();
        QTest::mouseClick(find<QPushButton>("takeCheapest"), Qt::LeftButton);
        QVERIFY(idle());
        QVERIFY(session().document().recipe.kind == &bake::kPieces);
        QVERIFY(session().bake()->baked.textures.textureMemory() * 50 < before);
        QVERIFY(session().bake()->error.all.max <= session().tolerance());
        QVERIFY(session().ladder() == ladder); // taking a rung measures nothing anew
        undoesAndRedoes(document);
    }
    void aRungIsTakenWhereItLies() {
        window_->bench(1).showStrip(0); // the ladder
        openAndWait(demo("crates.curly"));
        auto* chart = find<LadderChart>("ladder");
        const auto ladder = session().ladder();
        for (std::size_t i = 0; i < ladder->rungs.size(); ++i) {
            if (ladder->rungs[i].recipe.kind == &bake::kPieces &&
                ladder->rungs[i].recipe.positionStore == "float32") {
                QTest::mouseClick(chart->findChild<QCustomPlot*>(), Qt::LeftButton, {},
                                  chart->placeOf(i).toPoint());
                QVERIFY(idle());
                QCOMPARE(session().document().recipe.positionStore, std::string("float32"));
                QVERIFY(std::abs(session().bake()->error.all.max - ladder->rungs[i].error) < 1e-7);
                return;
            }
        }
        QFAIL("no such rung");
    }
    void anErrorOverTheToleranceAsksToLook() {
        window_->bench(1).showStrip(0); // the ladder
        openAndWait(demo("crab.glb"));
        const double error = session().bake()->error.all.max;
        QVERIFY(error > session().tolerance()); // between frames: at 30 a second a running bird moves far
        const auto bakeStop = [&] { return benchStates(session())[1]; };
        QCOMPARE(bakeStop().lamp, Lamp::look);
        QVERIFY(
            bakeStop().line.contains("> " + QString::fromStdString(base::lengthText(session().tolerance()))));
        const QString words = QString("Bake: Maximum error %1, over the %2 tolerance.")
                                  .arg(QString::fromStdString(base::lengthText(error)),
                                       QString::fromStdString(base::lengthText(session().tolerance())));
        QVERIFY2(window_->findingsLine()->words().startsWith(words),
                 qPrintable(window_->findingsLine()->words()));
        // The measured ladder knows a way: a click on the finding takes it.
        const project::Document before = session().document();
        auto* fix = window_->findingsLine()->findChild<QPushButton*>("findingFix");
        QVERIFY(fix && fix->isVisible());
        QCOMPARE(fix->text(), QString("Use the cheapest within it"));
        QTest::mouseClick(fix, Qt::LeftButton);
        QVERIFY(idle());
        QVERIFY(session().bake()->error.all.max <= session().tolerance());
        QCOMPARE(bakeStop().lamp, Lamp::fine);
        undoesAndRedoes(before);
        key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(idle());
        // More can be allowed as well, and the worst vertex is shown.
        for (const OpenFinding& finding : openFindings(session())) {
            if (finding.title.startsWith("Maximum error")) {
                finding.show();
                QCOMPARE(session().pickedVertex(), static_cast<int>(session().bake()->error.worstVertex));
                QCOMPARE(finding.fixes.back().label.left(5), QString("Allow"));
                finding.fixes.back().run();
                break;
            }
        }
        QVERIFY(idle());
        QCOMPARE(bakeStop().lamp, Lamp::fine);
        QVERIFY(session().tolerance() >= error && session().tolerance() < 1.2 * error);
    }
    void theToleranceIsAShareOrALength() {
        window_->bench(1).showStrip(0); // the ladder
        openAndWait(demo("crates.curly"));
        auto* field = find<NumberField>("tolerance");
        QCOMPARE(field->text(), QString("0.1 %"));
        const project::Document before = session().document();
        QTest::mouseClick(find<QPushButton>("toleranceOther"), Qt::LeftButton);
        QVERIFY(idle());
        QVERIFY(session().document().tolerance.length);
        QVERIFY(field->text().endsWith(" mm"));
        undoesAndRedoes(before);
        type("tolerance", "0.5 %");
        QVERIFY(!session().document().tolerance.length);
        QVERIFY(std::abs(session().document().tolerance.share - 0.005) < 1e-12);
        type("tolerance", "2 cm");
        QVERIFY(std::abs(session().tolerance() - 0.02) < 1e-12);
        QCOMPARE(field->text(), QString("20 mm"));
    }
    void theToleranceIsDraggedAndTyped() {
        window_->bench(1).showStrip(0); // the ladder
        openAndWait(demo("brief.curly"));
        auto* chart = find<LadderChart>("ladder");
        auto* plot = chart->findChild<QCustomPlot*>();
        const project::Document before = session().document();
        QCOMPARE(before.tolerance, bake::Tolerance()); // a thousandth of the size
        QVERIFY(qFuzzyCompare(session().tolerance(), 0.001 * bake::assetSize(session().source()->mesh())));
        const QPoint from(140, static_cast<int>(chart->lineY()));
        QTest::mousePress(plot, Qt::LeftButton, {}, from);
        for (int step = 1; step <= 4; ++step) {
            QTest::mouseMove(plot, from - QPoint(0, 6 * step));
        }
        QTest::mouseRelease(plot, Qt::LeftButton, {}, from - QPoint(0, 24));
        const double dragged = session().document().tolerance.length.value_or(0.0);
        QVERIFY2(dragged > 0.001, qPrintable(QString::number(dragged)));
        undoesAndRedoes(before); // one drag, one step
        type("tolerance", "20 mm");
        QVERIFY(qFuzzyCompare(session().tolerance(), 0.02));
        const auto rung = chart->cheapest();
        QVERIFY(rung && session().ladder()->rungs[*rung].error <= 0.02);
        const bake::Rung& best = session().ladder()->rungs[*rung];
        QVERIFY(
            find<QLabel>("cheapest")->text().contains(QString::fromStdString(base::sizeText(best.memory))));
        QVERIFY(find<QPushButton>("takeCheapest")->toolTip().contains(QString::fromStdString(best.label())));
    }
    void theLadderIsMadeOnlyWhileItIsSeen() {
        window_->bench(1).showStrip(0); // the ladder
        openAndWait(demo("crab.glb"));
        QVERIFY(session().ladder());
        window_->bench(1).showStrip(1);
        session().edit("normals", [](project::Document& d) { d.recipe.normalStore = "none"; });
        QVERIFY(idle());
        const auto old = session().ladder(); // of other normals: not made anew behind the sheet
        window_->bench(1).showStrip(0);
        QVERIFY(idle());
        QVERIFY(session().ladder() != old);
        QVERIFY(session().ladder()->complete());
    }
    void theLoopClosesByADecision() {
        openAndWait(demo("awning.curly"));
        const auto seam = [&] { return session().bake()->seams[0]; };
        QVERIFY(seam().gap <= seam().medianStep); // the demo fades
        clickSegment("closing", 0);               // as it is
        QVERIFY(!session().bake()->baked.textures.clips[0].closed);
        QVERIFY(seam().gap > 3.0 * seam().medianStep);
        QVERIFY(find<QLabel>("seamWords")->text().contains("Open"));
        const double openGap = seam().gap;
        const project::Document open = session().document();
        clickSegment("closing", 2); // the window that loops best
        QVERIFY(session().bake()->baked.textures.clips[0].closed);
        const inspect::LoopWindow best = session().survey()->clips[0].windows.at(0).window;
        QCOMPARE(*session().document().recipe.clips[0].window, (bake::FrameWindow{best.first, best.last}));
        QVERIFY(seam().gap < 0.7 * openGap && best.frames() >= 24);
        undoesAndRedoes(open);
        QVERIFY(
            find<QLabel>("seamWords")->text().contains(QString::fromStdString(base::lengthText(seam().gap))));
        clickSegment("closing", 3); // fade: begins later, for the frames that it uses up
        QCOMPARE(session().document().recipe.clips[0].window->first, std::size_t(12));
        QVERIFY(seam().gap <= seam().medianStep);
        type("fadeFrames", "4");
        QCOMPARE(session().document().recipe.fadeFrames, std::size_t(4));
        QVERIFY(session().bake()->baked.textures.clips[0].closed);
    }
    void theGapIsMendedFromTheFindingsLine() {
        openAndWait(demo("brief.curly"));
        clickSegment("closing", 0);
        auto* line = window_->findingsLine();
        QVERIFY2(line->words().contains("do not meet"), qPrintable(line->words()));
        bool offered = false;
        const std::vector<inspect::Observation> all = session().observations();
        for (const inspect::Observation& one : all) {
            for (const inspect::Fix& fix : one.fixes) {
                if (fix.label == "Cross-fade 12 frames") {
                    session().applyFix(fix);
                    offered = true;
                }
            }
        }
        QVERIFY(offered);
        QVERIFY(idle());
        QVERIFY(session().bake()->seams[0].gap <= session().bake()->seams[0].medianStep);
    }
    void kindsStoresAndTexturesByMouse() {
        openAndWait(demo("crates.curly"));
        clickSegment("kind", 2);
        QVERIFY(session().bake()->baked.textures.kind == &bake::kShapes);
        type("shapes", "6");
        QCOMPARE(session().bake()->baked.textures.layout.blocks, std::size_t(6));
        QVERIFY(!find<SegmentedChoice>("content")->isVisible());
        clickSegment("kind", 0);
        clickSegment("store", 3); // 2 × 8-bit
        QCOMPARE(session().bake()->baked.textures.textures.size(), std::size_t(3));
        auto* alpha = find<QAbstractButton>("alpha");
        window_->bench(1).panel()->findChild<QScrollArea*>()->ensureWidgetVisible(alpha);
        QTest::mouseClick(alpha, Qt::LeftButton);
        QVERIFY(idle());
        QCOMPARE(session().document().recipe.normalStore, std::string("oct16")); // what fits
        QCOMPARE(session().bake()->baked.textures.textures.size(), std::size_t(2));
        clickSegment("store", 1); // half: no room for them
        QVERIFY(!session().document().recipe.normalsInAlpha);
        QVERIFY(!session().bakeProblem());
        QVERIFY(!alpha->isEnabled());
        clickSegment("kind", 1);
        QVERIFY(session().bake()->baked.textures.kind == &bake::kPieces);
        type("thin", "100 mm");
        const bake::BakedClip& clip = session().bake()->baked.textures.clips[0];
        QVERIFY(clip.frames < 90 && clip.length() == 90);
        QCOMPARE(session().playhead().clip()->length(), std::size_t(90)); // time is as long as before
    }
    void whatBendsIsSaidAndTheLadderStillStands() {
        window_->bench(1).showStrip(0); // the ladder
        openAndWait(demo("brief.curly"));
        clickSegment("kind", 1);
        QVERIFY(session().bakeProblem());
        QVERIFY(QString::fromStdString(session().bakeProblem()->line()).contains("bends"));
        key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(idle());
        QVERIFY(!session().bakeProblem());
    }
    void theDecodedSideIsDrawnForEveryKind() {
        openAndWait(demo("crates.curly"));
        session().playhead().setFrame(20);
        session().look([](project::View& v) { v.curtain = 1.0; });
        const QImage source = stagePicture();
        session().look([](project::View& v) { v.curtain = 0.0; });
        for (const bake::Kind* kind : {&bake::kPieces, &bake::kVertices}) {
            session().edit("kind", [kind](project::Document& d) { d.recipe.kind = kind; });
            QVERIFY(tests::difference(stagePicture(), source) < 0.35); // the same to within what is stored
        }
        session().edit("shapes", [](project::Document& d) {
            d.recipe.kind = &bake::kShapes;
            d.recipe.shapes = 1;
        });
        const double off = tests::difference(stagePicture(), source);
        QVERIFY2(off > 0.35, qPrintable(QString::number(off))); // one shape is far too few, and is seen to be
    }
    void framesAreThereWhenTheyAreDrawn() {
        openAndWait(demo("awning.curly"));
        const auto at = [&](double frame, double curtain) {
            session().playhead().setFrame(frame);
            session().look([curtain](project::View& view) { view.curtain = curtain; });
            return stagePicture();
        };
        const QImage other = at(60.0, 1.0);
        // Never drawn before, between two frames, over the seam, and one again.
        for (const double frame : {5.0, 40.5, 107.5, 5.0}) {
            const QImage source = at(frame, 1.0);
            const double off = tests::difference(at(frame, 0.0), source);
            QVERIFY2(off < 0.25 * tests::difference(source, other), qPrintable(QString::number(off)));
        }
    }
    void theErrorLookMeasures() {
        openAndWait(demo("heron.curly"));
        key(Qt::Key_E);
        QCOMPARE(session().document().view.look, std::string("error"));
        QTest::mouseClick(find<QPushButton>("goThere"), Qt::LeftButton);
        const QImage positions = stagePicture();
        key(Qt::Key_E); // again: normals
        QCOMPARE(session().document().view.error, std::string("normal"));
        QVERIFY(tests::difference(stagePicture(), positions) > 0.1);
        QVERIFY(!session().undoStack().canUndo()); // looking is no change
    }
    void errorsOverFramesAndAgainstStep() {
        window_->bench(1).showStrip(0); // the ladder
        openAndWait(demo("brief.curly"));
        window_->bench(1).showStrip(2);
        QVERIFY(idle());
        auto* page = find<ErrorsPage>();
        double most = 0.0;
        for (int f = 0; f < 120; ++f) {
            most = std::max(most, page->frames()->shownValue(0, f));
        }
        QVERIFY(std::abs(most - session().bake()->error.all.max * 1000.0) < 1e-6); // millimetres
        clickSegment("errorOf", 1);
        most = 0.0;
        for (int f = 0; f < 120; ++f) {
            most = std::max(most, page->frames()->shownValue(0, f));
        }
        QVERIFY(std::abs(most - session().bake()->error.normalMaxDegrees) < 1e-3); // degrees
        clickSegment("errorOf", 2);
        const project::Document before = session().document();
        const QPoint second = page->steps()->placeOf(1).toPoint();
        QTest::mouseClick(page->steps()->findChild<QCustomPlot*>(), Qt::LeftButton, {}, second);
        QVERIFY(idle());
        QCOMPARE(session().document().recipe.step, std::size_t(2));
        undoesAndRedoes(before);
    }
    void theSheetShowsEveryTextureAndChannel() {
        openAndWait(demo("crates.curly"));
        window_->bench(1).showStrip(1);
        auto* sheet = find<TextureSheet>("sheet");
        QTRY_VERIFY(sheet->ready());
        const auto picture = [&](const SheetChoice& choice) {
            return pictureOf(session().bake()->baked.textures, choice, Qt::black).image;
        };
        clickSegment("sheetTexture", 1);
        QVERIFY(*sheet->choice().quantity == bake::kRotation);
        clickSegment("sheetChannel", 4);
        QCOMPARE(sheet->choice().channel, 3);
        QVERIFY(picture({&bake::kRotation, 0, 3, false}) != picture({&bake::kRotation, 0, 0, false}));
        clickSegment("sheetNumbers", 1);
        QVERIFY(sheet->choice().stored);
        QVERIFY(picture({&bake::kRotation, 0, -1, true}) != picture({&bake::kRotation, 0, -1, false}));
        // From the sheet to the model, and back.
        const QPointF at = sheet->placeOf(40, 2000);
        const auto spot = sheet->spotAt(at);
        QVERIFY(spot && spot->row == 40);
        QTest::mouseClick(sheet, Qt::LeftButton, {}, at.toPoint());
        QCOMPARE(session().playhead().frame(), 40.0);
        QCOMPARE(session().bake()->baked.columnOfVertex[static_cast<std::size_t>(session().pickedVertex())],
                 session().bake()->baked.columnOfVertex[2000]);
        QVERIFY(sheet->readout(*spot).contains("piece") && sheet->readout(*spot).contains("rotation"));
        // Zoom by key and pan by mouse: what is there stays under the pointer.
        sheet->setFocus();
        for (int i = 0; i < 5; ++i) {
            QTest::keyClick(sheet, Qt::Key_Plus);
        }
        QVERIFY(sheet->zoom() > 2.5);
        const QRectF before = sheet->sheetBox();
        QTest::mousePress(sheet, Qt::LeftButton, {}, QPoint(300, 60));
        QTest::mouseMove(sheet, QPoint(260, 60));
        QTest::mouseRelease(sheet, Qt::LeftButton, {}, QPoint(260, 60));
        QCOMPARE(sheet->sheetBox().left(), before.left() - 40.0);
        QTest::mouseDClick(sheet, Qt::LeftButton, {}, QPoint(300, 60));
        QCOMPARE(sheet->zoom(), 1.0);
    }
    void anEmptyTextureIsSaidPlainly() {
        openAndWait(demo("brief.curly"));
        session().edit("shape", [](project::Document& d) {
            d.source = {};
            d.source.shape = mesh::TestShape{"sheet", 1.0, 4, 4};
        });
        QVERIFY(idle());
        window_->bench(1).showStrip(1);
        auto* sheet = find<TextureSheet>("sheet");
        QTRY_VERIFY(sheet->warning().contains("Nothing moves"));
        session().edit("absolute", [](project::Document& d) { d.recipe.content = bake::Content::absolute; });
        QTRY_VERIFY(sheet->warning().isEmpty());
    }
};

static const ripple::tests::SuiteOf<TestBakeWindow> kSuite;
#include "test_bake_window.moc"
