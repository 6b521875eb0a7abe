// The real window, used by mouse and keyboard on a display of its own.

#include "bake/kind.h"
#include "app/benches/bake/clip_rows.h"
#include "app/benches/bake/bake_panel.h"
#include "app/charts/frame_chart.h"
#include "app/charts/texture_sheet.h"
#include "app/window/main_window.h"
#include "app/window/pictures.h"
#include "app/look/theme.h"
#include "base/progress.h"
#include "base/units.h"
#include "bundle/check.h"
#include "own_places.h"
#include "real_window.h"
#include "suite.h"

#include <QComboBox>
#include <QDir>
#include <QElapsedTimer>
#include <QMenu>
#include <QMimeData>
#include <QDialog>
#include <QPlainTextEdit>
#include <QRegularExpression>
#include <QScrollArea>
#include <QSettings>
#include <QTemporaryDir>
#include <QTest>
#include <QTimer>

#include <cmath>

using namespace ripple;
using namespace ripple::app;

namespace {

QString demo(const QString& name) {
    return tests::ownDemo(name);
}

/// The stage's picture, drawn now.
QImage stageImage(MainWindow& window) {
    QTest::qWait(60);
    return window.stage()->picture();
}

/// Mean difference per channel between two pictures' parts, 0..255.
double difference(const QImage& a, const QImage& b, const QRect& part) {
    double sum = 0.0;
    for (int y = part.top(); y <= part.bottom(); y += 2) {
        for (int x = part.left(); x <= part.right(); x += 2) {
            const QColor ca = a.pixelColor(x, y);
            const QColor cb = b.pixelColor(x, y);
            sum += std::abs(ca.red() - cb.red()) + std::abs(ca.green() - cb.green()) +
                   std::abs(ca.blue() - cb.blue());
        }
    }
    return sum / (3.0 * (part.width() / 2) * (part.height() / 2));
}

} // namespace

class TestWindow : public QObject {
    Q_OBJECT

    tests::SharedWindow window_;
    QTemporaryDir dir_;

    Session& session() { return window_->session(); }
    Stage& stage() { return *window_->stage(); }
    template <typename T>
    T* find(const QString& name) {
        return window_->findChild<T*>(name);
    }
    /// The awning as it came, before its end was faded into its start.
    void openAwning() {
        openAndWait(demo("awning.curly"));
        session().edit("as it came", [](project::Document& d) { d.recipe.closing = bake::Closing::drop; });
        QVERIFY(waitUntilIdle(*window_));
        session().undoStack().clear();
    }
    void openAndWait(const QString& file) {
        window_->openPath(file);
        QVERIFY(waitUntilIdle(*window_));
    }
    void key(Qt::Key k, Qt::KeyboardModifiers m = Qt::NoModifier) { tests::pressKey(*window_, k, m); }
    void clickSegment(const char* choice, int index) {
        auto* segments = find<SegmentedChoice>(choice);
        auto* button = segments->findChildren<QPushButton*>()[index];
        QTest::mouseClick(button, Qt::LeftButton);
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
    void aDraftLooksLikeTheFinishedPicture() {
        openAndWait(demo("heron.curly"));
        QVERIFY(!stage().settling());
        stage().keepDraftPixels();
        stage().setRest(-1); // drafts stay
        for (const char* look : {"lit", "wire", "uv-grid", "normals"}) {
            session().look([look](project::View& view) { view.look = look; });
            session().playhead().setFrame(look[0] == 'l' ? 4.0 : 9.0);
            QVERIFY(waitUntilIdle(*window_));
            session().playhead().setFrame(session().playhead().frame() + 1.0);
            QTRY_VERIFY(!stage().poser().busy());
            const QImage draft = stage().grab().toImage();
            QVERIFY(!stage().showsFinished());
            const QImage finished = stage().picture();
            QVERIFY(stage().showsFinished());
            // Edges and shadows only.
            const double away = difference(draft, finished, finished.rect());
            QVERIFY2(away < 1.5, qPrintable(QString("%1: %2").arg(look).arg(away)));
            QVERIFY(draft != finished);
        }
    }

    void anEmptyWindowSaysWhatToDo() {
        QVERIFY(window_->findingsLine()->words().contains("Open a deforming mesh"));
        QVERIFY(!window_->actions().action("play")->isEnabled());
        QVERIFY(!window_->actions().action("undo")->isEnabled());
        QVERIFY(window_->actions().action("open-source")->isEnabled());
        key(Qt::Key_Space); // nothing to play: nothing happens
        QVERIFY(!session().playhead().playing());
    }
    void itAllFitsInTheSmallestWindow() {
        openAndWait(demo("heron.glb"));
        QCOMPARE(window_->size(), QSize(1280, 800));
        for (int bench = 0; bench < 5; ++bench) {
            window_->showBench(bench);
            QTest::qWait(20);
            // Nothing of a panel lies beyond its right edge.
            for (QScrollArea* area : window_->bench(bench).panel()->findChildren<QScrollArea*>()) {
                QString widest;
                int most = 0;
                for (const QWidget* part :
                     area->widget()->findChildren<QWidget*>(Qt::FindDirectChildrenOnly)) {
                    if (part->isVisible() && part->minimumSizeHint().width() > most) {
                        most = part->minimumSizeHint().width();
                        widest = part->objectName() + " " + part->metaObject()->className();
                    }
                }
                QVERIFY2(area->widget()->width() <= area->viewport()->width(),
                         qPrintable(QString("bench %1: %2 takes %3").arg(bench).arg(widest).arg(most)));
            }
            for (QLabel* label : window_->bench(bench).panel()->findChildren<QLabel*>()) {
                if (label->isVisible() && !label->wordWrap()) {
                    QVERIFY2(label->width() >= label->sizeHint().width() - 1, qPrintable(label->text()));
                }
            }
        }
    }
    void openShowsTheModelAndItsFacts() {
        openAndWait(demo("heron.curly"));
        QCOMPARE(stage().verticesDrawn(), static_cast<int>(session().source()->mesh().vertexCount()));
        QCOMPARE(session().playhead().clips().size(), std::size_t(3));
        QVERIFY(window_->windowTitle().startsWith("heron"));
        // The model stands in the middle of the stage: its colours differ from the background's.
        const QImage with = stageImage(*window_);
        session().newProject();
        const QImage without = stageImage(*window_);
        const QRect middle(with.width() / 2 - 80, with.height() / 2 - 130, 160, 260);
        QVERIFY(difference(with, without, middle) > 8.0);
    }
    void playMovesHandAndModel() {
        openAndWait(demo("crab.curly"));
        const glm::vec3 before = stage().sourcePosition(300);
        key(Qt::Key_Space);
        QVERIFY(session().playhead().playing());
        QTRY_VERIFY(session().playhead().frame() > 4.0);
        QTRY_VERIFY(glm::distance(stage().sourcePosition(300), before) > 1e-4f);
        key(Qt::Key_Space);
        QVERIFY(!session().playhead().playing());
        key(Qt::Key_Home);
        QCOMPARE(session().playhead().frame(), 0.0);
        key(Qt::Key_Right);
        key(Qt::Key_Right);
        QCOMPARE(session().playhead().frame(), 2.0);
        key(Qt::Key_Left);
        QCOMPARE(session().playhead().frame(), 1.0);
        key(Qt::Key_K);
        QCOMPARE(session().playhead().clip()->name, std::string("run"));
    }
    void dialScrubsByItsHand() {
        openAndWait(demo("crab.curly"));
        Dial& dial = *window_->dial();
        QTest::mousePress(&dial, Qt::LeftButton, {}, dial.gripAt(0.0).toPoint());
        QTest::mouseMove(&dial, dial.gripAt(0.25).toPoint());
        QVERIFY(std::abs(session().playhead().turn() - 0.25) < 0.01);
        QTest::mouseMove(&dial, dial.gripAt(0.75).toPoint());
        QVERIFY(std::abs(session().playhead().turn() - 0.75) < 0.01);
        QTest::mouseRelease(&dial, Qt::LeftButton);
        QTest::mouseClick(&dial, Qt::LeftButton, {}, dial.playBox().center().toPoint());
        QVERIFY(session().playhead().playing());
    }
    void dialListsTheClips() {
        openAndWait(demo("crab.curly"));
        Dial& dial = *window_->dial();
        QTimer::singleShot(200, this, [] {
            auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
            QVERIFY(menu);
            QCOMPARE(menu->actions().size(), 3);
            QVERIFY(menu->actions()[2]->text().startsWith("wait"));
            menu->actions()[2]->trigger();
            menu->close();
        });
        QTest::mouseClick(&dial, Qt::LeftButton, {}, dial.clipBox().center().toPoint());
        QCOMPARE(session().playhead().clip()->name, std::string("wait"));
        openAndWait(demo("brief.curly"));
        QVERIFY(dial.clipBox().isEmpty());
    }
    void gatherSaysWhatIsThere() {
        openAndWait(demo("heron.curly"));
        window_->showBench(0);
        QVERIFY(waitUntilIdle(*window_));
        QStringList words;
        for (QLabel* label : window_->bench(0).panel()->findChildren<QLabel*>()) {
            if (label->isVisible()) {
                words << label->text();
            }
        }
        const QString all = words.join('\n');
        for (const char* wanted : {"heron.glb", "glTF 2.0", "stroll", "1.40 s · keys 30 / s · closed",
                                   "2.60 s · keys 30 / s · open", "24 joints", "base colour", "1 (2)",
                                   "free: lookup UVs go here", "Skin weights add up to 1"}) {
            QVERIFY2(all.contains(wanted), wanted);
        }
    }
    void findingsOfferTheirFix() {
        openAwning();
        QVERIFY(window_->findingsLine()->words().startsWith("Gather: The ends do not meet"));
        session().edit("step", [](project::Document& d) { d.recipe.step = 6; });
        QVERIFY(waitUntilIdle(*window_));
        bool offered = false;
        for (const OpenFinding& finding : openFindings(session())) {
            if (finding.bench == "bake" && finding.title.startsWith("Maximum error")) {
                QVERIFY(finding.words.startsWith("It arises between kept frames"));
                QCOMPARE(finding.fixes[0].label, QString("Keep every frame"));
                finding.fixes[0].run();
                offered = true;
                break;
            }
        }
        QVERIFY(offered);
        QCOMPARE(session().document().recipe.step, std::size_t(1));
        QVERIFY(waitUntilIdle(*window_));
        key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(session().document().recipe.step, std::size_t(6));
        QVERIFY(waitUntilIdle(*window_));
    }
    void bothThemesKeepTheWindow() {
        openAndWait(demo("crab.curly"));
        const QImage dusk = window_->grab().toImage();
        window_->actions().trigger("day");
        QTest::qWait(60);
        const QImage day = window_->grab().toImage();
        window_->actions().trigger("day");
        // The panel is light by day and dark at dusk.
        const QPoint panel(window_->width() - 20, window_->height() - 60);
        QVERIFY(qGray(day.pixel(panel)) > 200);
        QVERIFY(qGray(dusk.pixel(panel)) < 70);
    }
    void curtainIsDraggedAndShowsTheDecodedSide() {
        openAndWait(demo("brief.curly"));
        QVERIFY(stage().curtainShown());
        // Decoded from 16 bits it looks the same on both sides.
        session().playhead().setFrame(40.0);
        session().look([](project::View& v) { v.curtain = 0.0; });
        const QImage decoded = stageImage(*window_);
        session().look([](project::View& v) { v.curtain = 1.0; });
        const QImage source = stageImage(*window_);
        const QRect whole = decoded.rect().adjusted(30, 60, -30, -90);
        QVERIFY2(difference(decoded, source, whole) < 0.8,
                 qPrintable(QString::number(difference(decoded, source, whole))));
        // By hand: press on the line, move, let go.
        session().look([](project::View& v) { v.curtain = 0.5; });
        QTest::qWait(30);
        const QPoint grip = stage().curtainHandle().toPoint();
        QTest::mousePress(&stage(), Qt::LeftButton, {}, grip);
        QTest::mouseMove(&stage(), grip + QPoint(-150, 10));
        QTest::mouseRelease(&stage(), Qt::LeftButton, {}, grip + QPoint(-150, 10));
        QVERIFY(std::abs(session().document().view.curtain - (0.5 - 150.0 / stage().width())) < 0.01);
        key(Qt::Key_C);
        QCOMPARE(session().document().view.curtain, 0.5);
        QVERIFY(!session().undoStack().canUndo()); // looking is no change
    }
    void theCurtainShowsWhatABadStepDoes() {
        openAwning();
        session().edit("step", [](project::Document& d) { d.recipe.step = 40; });
        QVERIFY(waitUntilIdle(*window_));
        session().playhead().setFrame(0.5); // between kept frames 0 and 40
        session().look([](project::View& v) { v.curtain = 0.0; });
        const QImage decoded = stageImage(*window_);
        session().look([](project::View& v) { v.curtain = 1.0; });
        const QImage source = stageImage(*window_);
        QVERIFY(difference(decoded, source, decoded.rect().adjusted(30, 60, -30, -90)) > 1.0);
        QVERIFY(window_->findingsLine()->words().contains("cuts corners") ||
                window_->findingsLine()->words().contains("do not meet"));
    }
    void choicesRebakeAndUndo() {
        openAndWait(demo("crab.curly"));
        const std::size_t halfMemory = session().bake()->baked.textures.textureMemory();
        clickSegment("store", 0); // float
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().document().recipe.positionStore, std::string("float32"));
        QVERIFY(session().bake()->baked.textures.textureMemory() > halfMemory);
        QVERIFY(session().bake()->error.atFrames.max < 1e-7);
        clickSegment("content", 0);
        clickSegment("normals", 3); // none
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(!session().bake()->baked.textures.normalStore.stored());
        QCOMPARE(session().undoStack().count(), 3);
        for (int i = 0; i < 3; ++i) {
            key(Qt::Key_Z, Qt::ControlModifier);
        }
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().document().recipe.positionStore, std::string("half"));
        QCOMPARE(session().bake()->baked.textures.textureMemory(), halfMemory);
        key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(session().document().recipe.positionStore, std::string("float32"));
    }
    void everyEditUndoesAndRedoes() {
        openAndWait(demo("crab.curly"));
        const auto saved = [&] { return project::documentText(session().document(), "/"); };
        const std::vector<std::function<void(project::Document&)>> edits = {
            [](auto& d) { d.recipe.step = 3; },
            [](auto& d) { d.recipe.fps = 15.0; },
            [](auto& d) {
                d.recipe.clips = {{"wait", bake::FrameWindow{2, 30}, {}}};
            },
            [](auto& d) { d.recipe.content = bake::Content::offset; },
            [](auto& d) { d.recipe.positionStore = "unorm16"; },
            [](auto& d) { d.recipe.normalStore = "none"; },
            [](auto& d) { d.recipe.maxWidth = 256; },
            [](auto& d) { d.recipe.kind = &bake::kShapes; },
            [](auto& d) { d.recipe.shapes = 9; },
            [](auto& d) { d.recipe.thin = 0.001; },
            [](auto& d) { d.recipe.closing = bake::Closing::window; },
            [](auto& d) { d.recipe.fadeFrames = 5; },
            [](auto& d) { d.recipe.rangePerClip = true; },
            [](auto& d) { d.recipe.powerOfTwo = true; },
            [](auto& d) { d.recipe.halfUvs = true; },
            [](auto& d) { d.tolerance.length = 0.01; },
            [](auto& d) { d.ship.folder = "/somewhere"; },
            [](auto& d) { d.ship.name = "wader"; },
        };
        for (const auto& edit : edits) {
            const std::string before = saved();
            session().edit("edit", edit);
            const std::string after = saved();
            QVERIFY(before != after);
            session().undoStack().undo();
            QCOMPARE(saved(), before);
            session().undoStack().redo();
            QCOMPARE(saved(), after);
        }
        QVERIFY(waitUntilIdle(*window_));
    }
    void oneDragIsOneStepAndNoneIfItComesBack() {
        openAndWait(demo("crab.curly"));
        auto* step = find<NumberField>("step");
        const QPoint at = step->rect().center();
        QTest::mousePress(step, Qt::LeftButton, {}, at);
        for (int x = 2; x <= 36; x += 2) {
            QTest::mouseMove(step, at + QPoint(x, 0));
        }
        QTest::mouseRelease(step, Qt::LeftButton, {}, at + QPoint(36, 0));
        QCOMPARE(session().document().recipe.step, std::size_t(7));
        QCOMPARE(session().undoStack().count(), 1);
        session().undoStack().undo();
        QCOMPARE(session().document().recipe.step, std::size_t(1));
        QTest::mousePress(step, Qt::LeftButton, {}, at);
        QTest::mouseMove(step, at + QPoint(30, 0));
        QVERIFY(session().document().recipe.step > 1);
        QTest::mouseMove(step, at + QPoint(12, 0));
        QTest::mouseMove(step, at);
        QTest::mouseRelease(step, Qt::LeftButton, {}, at);
        QCOMPARE(session().document().recipe.step, std::size_t(1));
        QVERIFY(!session().undoStack().canUndo());
        QVERIFY(waitUntilIdle(*window_));
    }
    void windowFieldsAreTyped() {
        openAndWait(demo("awning.curly"));
        auto* last = find<NumberField>("lastFrame");
        QTest::mouseClick(last, Qt::LeftButton);
        QTest::keyClicks(last, "113");
        QTest::keyClick(last, Qt::Key_Return);
        auto* first = find<NumberField>("firstFrame");
        QTest::mouseClick(first, Qt::LeftButton);
        QTest::keyClicks(first, "18");
        QTest::keyClick(first, Qt::Key_Return);
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().document().recipe.clips[0].window, (std::optional(bake::FrameWindow{18, 113})));
        QCOMPARE(session().playhead().clip()->frames, std::size_t(96));
        auto* fps = find<NumberField>("rate");
        QTest::mouseClick(fps, Qt::LeftButton);
        QTest::keyClicks(fps, "24 / s");
        QTest::keyClick(fps, Qt::Key_Return);
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().playhead().clip()->fps, 24.0);
    }
    void clipsAreTickedOff() {
        openAndWait(demo("crab.curly"));
        auto* rows = find<ClipRows>("clipRows");
        QVERIFY(rows && rows->rowCount() == 3 && rows->words(1).startsWith("run"));
        QTest::mouseClick(rows, Qt::LeftButton, {}, rows->tickBox(1).center().toPoint());
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().playhead().clips().size(), std::size_t(2));
        QCOMPARE(session().playhead().clips()[1].name, std::string("wait"));
        key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().playhead().clips().size(), std::size_t(3));
    }
    void bakingReportsProgressAndCancels() {
        openAndWait(demo("heron.curly"));
        const auto before = session().bake();
        bool ran = false;
        QObject here; // the window outlives this test
        connect(&session().bakeJob(), &LatestJob::runningChanged, &here,
                [&](bool running) { ran = ran || running; });
        session().edit("dense", [](project::Document& d) {
            d.recipe.fps = 900.0;
            d.recipe.maxWidth = 16384;
        }); // several seconds
        QVERIFY(ran && session().bakeJob().running());
        QVERIFY(find<QPushButton>("cancelBake")->isVisible());
        QElapsedTimer clock;
        clock.start();
        QTRY_VERIFY_WITH_TIMEOUT(session().bakeJob().fraction() > 0.0, 60000);
        QTest::mouseClick(find<QPushButton>("cancelBake"), Qt::LeftButton);
        QVERIFY(!session().bakeJob().running());
        QVERIFY(session().bake() == before);
        QVERIFY(window_->findingsLine()->words().contains("Cancelled"));
        // A newer request takes an older one's place.
        session().edit("dense", [](project::Document& d) { d.recipe.fps = 800.0; });
        session().edit("plain", [](project::Document& d) { d.recipe.fps = 10.0; });
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().bake()->baked.textures.clips[0].frames, std::size_t(14));
    }
    void sheetAndModelPickEachOther() {
        openAndWait(demo("crab.curly"));
        window_->bench(1).showStrip(1);
        QVERIFY(waitUntilIdle(*window_));
        TextureSheet* sheet = nullptr;
        for (TextureSheet* each : window_->findChildren<TextureSheet*>()) {
            sheet = each->isVisible() ? each : sheet;
        }
        QVERIFY(sheet);
        const QPoint at = sheet->sheetBox().center().toPoint();
        const auto spot = sheet->spotAt(at);
        QVERIFY(spot);
        QTest::mouseClick(sheet, Qt::LeftButton, {}, at);
        QCOMPARE(session().pickedVertex(), static_cast<int>(spot->vertex));
        const bake::BakedClip& clip = *session().playhead().clip();
        QCOMPARE(clip.firstFrame + static_cast<std::size_t>(session().playhead().frame()), spot->row);
        // What the read-out says is what the texture decodes to.
        const auto bake = session().bake();
        const glm::vec3 stored = bake->frames->positionsOf(spot->row)[spot->vertex];
        const QString length = QString::fromStdString(base::lengthText(static_cast<double>(stored.x)));
        QVERIFY2(sheet->readout(*spot).contains(length.left(3)),
                 qPrintable(sheet->readout(*spot) + " / " + length));
        // Clicking the model picks a vertex; clicking past it picks none.
        session().pickVertex(-1);
        stage().frameModel(false);
        QTest::qWait(40);
        QTest::mouseClick(&stage(), Qt::LeftButton, {}, QPoint(8, stage().height() / 2));
        QCOMPARE(session().pickedVertex(), -1);
    }
    void goThereLeadsToTheWorst() {
        openAndWait(demo("crab.curly"));
        QTest::mouseClick(find<QPushButton>("goThere"), Qt::LeftButton);
        QCOMPARE(session().pickedVertex(), static_cast<int>(session().bake()->error.worstVertex));
        QCOMPARE(session().playhead().clip()->name, session().bake()->error.worstClip);
        QVERIFY(std::abs(session().playhead().frame() - session().bake()->error.worstFrame) < 1e-9);
    }
    void looksByKeyAndButton() {
        openAndWait(demo("heron.curly"));
        const QRect middle(stage().width() / 2 - 90, stage().height() / 2 - 140, 180, 280);
        QImage last = stageImage(*window_);
        for (const Qt::Key k : {Qt::Key_W, Qt::Key_U, Qt::Key_N}) {
            key(k);
            const QImage now = stageImage(*window_);
            QVERIFY(difference(now, last, middle) > 1.0);
            last = now;
        }
        QTest::mouseClick(find<QPushButton>("look lit"), Qt::LeftButton);
        QCOMPARE(session().document().view.look, std::string("lit"));
    }
    void orbitPanZoomAndFrame() {
        openAndWait(demo("heron.curly"));
        const QImage before = stageImage(*window_);
        const QPoint at(200, 200);
        QTest::mousePress(&stage(), Qt::LeftButton, {}, at);
        QTest::mouseMove(&stage(), at + QPoint(120, 40));
        QTest::mouseRelease(&stage(), Qt::LeftButton, {}, at + QPoint(120, 40));
        const QImage turned = stageImage(*window_);
        QVERIFY(difference(before, turned, before.rect()) > 0.5);
        QTest::mousePress(&stage(), Qt::MiddleButton, {}, at);
        QTest::mouseMove(&stage(), at + QPoint(90, 0));
        QTest::mouseRelease(&stage(), Qt::MiddleButton, {}, at + QPoint(90, 0));
        QVERIFY(difference(stageImage(*window_), turned, before.rect()) > 0.5);
        key(Qt::Key_V, Qt::ShiftModifier);
        QVERIFY(difference(stageImage(*window_), before, before.rect()) < 0.2);
    }
    void theTimeOfAPictureIsThatOfDrawingIt() {
        openAndWait(demo("brief.curly"));
        const double drawn = stage().drawMilliseconds();
        stage().repaint(); // nothing has changed: the same picture is shown again
        QCOMPARE(stage().drawMilliseconds(), drawn);
    }
    void theStageRestsWhenNothingMoves() {
        openAndWait(demo("crab.curly"));
        int drawn = 0;
        QObject here; // the window outlives this test
        connect(&stage(), &Stage::drawn, &here, [&] { ++drawn; });
        // What was still on its way comes first, however long that takes here.
        const auto restsFor = [&](int milliseconds) {
            const int before = drawn;
            QTest::qWait(milliseconds);
            return drawn == before;
        };
        QVERIFY(QTest::qWaitFor([&] { return restsFor(300); }, 30000));
        drawn = 0;
        key(Qt::Key_Right);
        QTRY_VERIFY(drawn > 0);
    }
    void motionChartShowsTheFramesTheyAre() {
        openAwning();
        window_->showBench(0);
        auto* chart = window_->bench(0).strip()->findChild<FrameChart*>();
        const bake::Motion& motion = session().bake()->motion[0];
        QVERIFY(std::abs(chart->shownValue(0, 30) - 1000.0 * static_cast<double>(motion.max[30])) < 1e-6);
        QVERIFY(std::abs(chart->shownValue(1, 30) - 1000.0 * static_cast<double>(motion.mean[30])) < 1e-6);
    }
    void shipWritesABundleThatChecks() {
        openAndWait(demo("heron.curly"));
        key(Qt::Key_5);
        QCOMPARE(session().document().view.bench, std::string("ship"));
        QVERIFY(find<QPlainTextEdit>("code")->toPlainText().contains("heron_at_frame"));
        session().edit("folder", [&](project::Document& d) { d.ship.folder = dir_.path().toStdString(); });
        QVERIFY(waitUntilIdle(*window_));
        QTest::mouseClick(find<QPushButton>("write"), Qt::LeftButton);
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(session().lastCheck() && session().lastCheck()->ok());
        const auto source = session().source();
        QVERIFY(bundle::check((dir_.path() + "/heron").toStdString(), source.get()).ok());
        // What was announced is what lies there.
        for (const ShipFile& file : session().ship()->files) {
            QCOMPARE(static_cast<std::size_t>(
                         QFileInfo(dir_.path() + "/heron/" + QString::fromStdString(file.file)).size()),
                     file.bytes);
        }
        auto* name = find<QLineEdit>("bundleName");
        name->setFocus();
        name->selectAll();
        QTest::keyClicks(name, "wader");
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(session().document().ship.name, std::string("wader"));
        key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(session().document().ship.name.empty());
    }
    void problemsAreShownNotThrown() {
        window_->openPath(dir_.filePath("none.glb"));
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(window_->findingsLine()->words().contains("no such file", Qt::CaseInsensitive));
        QVERIFY(!session().source());
        window_->openPath(dir_.filePath("none.curly"));
        QVERIFY(window_->findingsLine()->words().contains("no such file"));
        openAndWait(demo("heron.curly"));
        session().edit("narrow", [](project::Document& d) { d.recipe.maxWidth = 4; });
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(session().bakeProblem());
        QVERIFY2(window_->findingsLine()->words().startsWith("Bake:"),
                 qPrintable(window_->findingsLine()->words()));
        QVERIFY(window_->rail()->isVisible());
        key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(session().bake() && !session().bakeProblem());
        session().edit("nowhere", [](project::Document& d) { d.ship.folder = "/proc"; });
        session().writeBundle();
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(session().shipProblem());
    }
    void savedProjectsComeBack() {
        openAndWait(demo("awning_0003.obj"));
        session().edit("step", [](project::Document& d) { d.recipe.step = 5; });
        QVERIFY(window_->windowTitle().contains("•"));
        session().saveAs(dir_.filePath("market.curly"));
        QVERIFY(!window_->windowTitle().contains("•"));
        session().newProject();
        openAndWait(dir_.filePath("market.curly"));
        QCOMPARE(session().document().recipe.step, std::size_t(5));
        QCOMPARE(session().playhead().clip()->frames, std::size_t(24));
    }
    void filesAreDropped() {
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(demo("heron.glb"))});
        QDragEnterEvent enter(QPoint(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&*window_, &enter);
        QVERIFY(enter.isAccepted());
        QDropEvent drop(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&*window_, &drop);
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(session().document().assetName(), std::string("heron"));
        QVERIFY(QSettings().value("recent").toStringList().contains(
            QFileInfo(demo("heron.glb")).absoluteFilePath()));
    }
    void railLeadsToTheBenches() {
        openAndWait(demo("crab.curly"));
        for (int i = 0; i < 5; ++i) {
            QTest::mouseClick(window_->rail(), Qt::LeftButton, {}, window_->rail()->stopBox(i).center());
            QCOMPARE(benchIndex(session().document().view.bench), i);
            QVERIFY(window_->bench(i).panel()->isVisible());
            QVERIFY(window_->bench(i).strip()->isVisible());
        }
        const auto states = benchStates(session());
        QCOMPARE(states[0].lamp, Lamp::fine);
        QCOMPARE(states[2].lamp, Lamp::untouched);
    }
    void theKeysSheetListsThemAll() {
        QTimer::singleShot(200, this, [this] {
            auto* sheet = qobject_cast<QDialog*>(QApplication::activeModalWidget());
            QVERIFY(sheet);
            QStringList words;
            for (QLabel* label : sheet->findChildren<QLabel*>()) {
                words << label->text();
            }
            const QSize size = sheet->size();
            sheet->close(); // whatever comes of it: the key waits for that
            for (const ActionRow& row : window_->actions().rows()) {
                QVERIFY2(row.shortcut.isEmpty() || words.contains(row.text), qPrintable(row.text));
            }
            QCOMPARE(words.filter(QRegularExpression("^Look$")).size(), 1); // one heading for each menu
            QVERIFY2(size.height() < 760 && size.width() < 1240,
                     qPrintable(QString("%1 × %2").arg(size.width()).arg(size.height())));
        });
        key(Qt::Key_F1);
    }
    void everyShortcutIsUsedOnce() {
        QStringList seen;
        for (const ActionRow& row : window_->actions().rows()) {
            if (!row.shortcut.isEmpty()) {
                QVERIFY2(!seen.contains(row.shortcut), qPrintable(row.shortcut));
                seen << row.shortcut;
            }
        }
        QVERIFY(seen.size() > 20);
    }
};

static const ripple::tests::SuiteOf<TestWindow> kSuite;
#include "test_window.moc"
