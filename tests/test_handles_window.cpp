// What is taken hold of on the model, and how the stage draws a score that changes.

#include "move_window.h"
#include "suite.h"

using namespace ripple;
using namespace ripple::app;

class TestHandlesWindow : public tests::MoveWindow {
    Q_OBJECT

private Q_SLOTS:
    void oneDragIsOneStep() {
        openDemo("skate.curly");
        const project::Document before = session().document();
        auto* field = find<NumberField>("amplitude");
        const QPoint from = field->rect().center();
        QTest::mousePress(field, Qt::LeftButton, {}, from);
        for (int step = 1; step <= 10; ++step) {
            QTest::mouseMove(field, from + QPoint(4 * step, 0));
            QTest::qWait(5);
        }
        QTest::mouseRelease(field, Qt::LeftButton, {}, from + QPoint(40, 0));
        QVERIFY(score().voices[0].amplitude.value > before.score.voices[0].amplitude.value);
        QCOMPARE(find<NumberField>("amplitude"), field); // it is still in the hand: rows were not made anew
        undoesAndRedoes(before);
    }
    /// Presses on a handle, drags by that and lets go; the value's words are shown meanwhile.
    void dragHandle(const QString& name, const QPoint& by) {
        Stage* stage = window_->stage();
        const QPoint from = stage->handlePlace(name).toPoint();
        QVERIFY2(stage->rect().contains(from) && !from.isNull(), qPrintable(name));
        QTest::mouseMove(stage, from);
        QTest::mousePress(stage, Qt::LeftButton, {}, from);
        for (int step = 1; step <= 8; ++step) {
            QTest::mouseMove(stage, from + by * step / 8);
            QTest::qWait(5);
        }
        QTest::mouseRelease(stage, Qt::LeftButton, {}, from + by);
        QVERIFY(idle());
    }
    void aMaskPlaneIsDraggedOnTheModel() {
        openDemo("skate.curly");
        motion::MaskTerm term;
        term.direction = {0, 0, 1};
        term.low = -0.2;
        term.high = 0.3;
        editVoice(session(), score().voices[0].id, "held", [&](motion::Voice& v) { v.heldBy = {term}; });
        chooseVoice(session(), score().voices[0].id);
        QVERIFY(idle());
        const project::Document before = session().document();
        const QPointF from = window_->stage()->handlePlace("high 0");
        dragHandle("high 0", {40, 12});
        // It slid along its direction, to where the pointer is as seen across it; the rest stayed.
        const motion::MaskTerm now = score().voices[0].heldBy[0];
        QVERIFY(now.high != term.high);
        QCOMPARE(now.low, term.low);
        QCOMPARE(now.direction, term.direction);
        const QPointF to = window_->stage()->handlePlace("high 0");
        const QPointF way = to - from;
        QVERIFY(way.x() * 40 + way.y() * 12 > 0.0);
        QVERIFY(session().performance());
        part("Masks");
        QTRY_VERIFY(find<NumberField>("high 0"));
        QVERIFY(std::abs(find<NumberField>("high 0")->value() - 100.0 * now.high) < 1e-6);
        undoesAndRedoes(before); // one drag is one step
    }
    void directionsPointsAndWavesAreDraggedToo() {
        openDemo("bulrush.curly");
        for (const motion::Voice& voice : score().voices) {
            chooseVoice(session(), voice.id);
            QVERIFY(idle());
            for (const ScoreHandle& handle : window_->stage()->handles()) {
                const project::Document before = session().document();
                const QPoint at = window_->stage()->handlePlace(handle.name).toPoint();
                if (!window_->stage()->rect().adjusted(40, 40, -40, -40).contains(at)) {
                    continue; // a wave longer than what is seen
                }
                dragHandle(handle.name, {26, -22});
                QVERIFY2(!session().scoreProblem(), qPrintable(handle.name));
                if (session().document().score == before.score) {
                    continue; // another handle lies above this one, or it is seen from its end
                }
                undoesAndRedoes(before);
            }
        }
        QVERIFY(session().undoStack().count() >= 3);
        // While it plays it is looked at, not handled.
        session().playhead().setPlaying(true);
        QVERIFY(window_->stage()->handles().empty());
        session().playhead().setPlaying(false);
    }
    void theMaskLookShowsTheValueUnderThePointer() {
        openDemo("bulrush.curly");
        key(Qt::Key_H);
        QCOMPARE(session().document().view.look, std::string("mask"));
        Stage* stage = window_->stage();
        QVERIFY(!stage->shades().values.empty());
        for (int y = 40; y < stage->height() - 40 && stage->hoverVertex() < 0; y += 7) {
            QTest::mouseMove(stage, QPoint(stage->width() / 2, y));
            QTest::qWait(2);
        }
        QVERIFY(stage->hoverVertex() >= 0);
        const auto vertex = static_cast<std::size_t>(stage->hoverVertex());
        const auto& nodes =
            session().performance()->composition().voices[voiceIndex(score(), chosenVoice(session())->id)];
        const std::vector<float> masks =
            session().performance()->values(nodes.mask, session().playhead().turn(), {});
        QCOMPARE(stage->shades().values[vertex], masks[vertex]);
    }
    void aDenseMeshIsDraftedWhileAVoiceIsDragged() {
        openDenseSheet();
        Stage& stage = *window_->stage();
        session().pickVertex(9000);
        editVoice(session(), score().voices[0].id, "more",
                  [](motion::Voice& voice) { voice.amplitude.value *= 1.5; });
        const QImage draft = stage.grab().toImage();
        QVERIFY(stage.settling());
        // The poses of the processor wait, but the picked vertex stands where the score moves it.
        const double turn = session().playhead().turn();
        const auto performance = session().performance();
        const glm::vec3 there =
            performance->trace(9000, {&turn, 1}, {}, performance->composition().position)[0];
        QVERIFY(glm::distance(stage.sourcePosition(9000), there) < 1e-6f);
        const double away = tests::difference(draft, stage.picture()); // the same, finished
        QVERIFY2(away < 1.5, qPrintable(QString::number(away)));
        QTRY_VERIFY(!stage.poser().busy());
        QVERIFY(glm::distance(stage.sourcePosition(9000), there) < 1e-4f); // and so is the pose, later
        // What was measured of the new motion does not turn the view away from what is worked on.
        const QPointF before = stage.handlePlace("push");
        QVERIFY(idle());
        QCOMPARE(stage.handlePlace("push"), before);
    }
    void draftsOfFewerPixelsShowTheSame() {
        openDenseSheet();
        Stage& stage = *window_->stage();
        const unsigned voice = score().voices[0].id;
        const auto draftWith = [&](double times) {
            editVoice(session(), voice, "more", [times](motion::Voice& v) { v.amplitude.value *= times; });
            return stage.grab().toImage();
        };
        const auto draftBefore = [&] {
            session().undoStack().undo();
            return stage.grab().toImage();
        };
        const QImage all = draftWith(1.5);
        stage.keepDraftPixels(0.5);
        draftWith(2.0);
        const QImage some = draftBefore();
        QVERIFY(stage.settling());
        // The same picture, not upside down and not shifted: far nearer than those would be.
        const double away = tests::difference(some, all);
        QVERIFY2(away < 0.25 * tests::difference(some.mirrored(), all), qPrintable(QString::number(away)));
        QVERIFY2(away < tests::difference(some.copy(16, 0, some.width() - 16, some.height()), all),
                 qPrintable(QString::number(away)));
        // The ground behind is not drawn anew; what was in front of it leaves no trace.
        draftWith(3.0);
        QCOMPARE(draftBefore(), some);
        // From elsewhere it is another ground.
        QWheelEvent nearer(QPointF(300, 200), stage.mapToGlobal(QPointF(300, 200)), {}, {0, 240},
                           Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
        QApplication::sendEvent(&stage, &nearer);
        const QImage turned = draftWith(1.01);
        QVERIFY(idle());
        QVERIFY(tests::difference(turned, stage.picture()) < 0.5 * tests::difference(turned, some));
    }
    void handlesStayUnderThePointer() {
        openDemo("windsock.curly");
        motion::MaskTerm term;
        term.direction = {1, 0, 0};
        term.low = 0.0;
        term.high = 0.3;
        editVoice(session(), score().voices[0].id, "held", [&](motion::Voice& v) { v.heldBy = {term}; });
        chooseVoice(session(), score().voices[0].id);
        QVERIFY(idle());
        Stage* stage = window_->stage();
        const QPointF handle = stage->handlePlace("high 0");
        // Taken hold of beside its middle and moved by a little: it goes by as little, without a leap.
        const QPoint from = (handle + QPointF(5, 3)).toPoint();
        QTest::mousePress(stage, Qt::LeftButton, {}, from);
        QTest::mouseMove(stage, from + QPoint(2, 0));
        QTest::mouseMove(stage, from + QPoint(4, 0));
        const QPointF to = stage->handlePlace("high 0");
        QVERIFY(std::hypot(to.x() - handle.x(), to.y() - handle.y()) < 6.0);
        QTest::mouseRelease(stage, Qt::LeftButton, {}, from + QPoint(4, 0));
        QVERIFY(score().voices[0].heldBy[0].high != 0.3);
        session().undoStack().undo();
        QCOMPARE(score().voices[0].heldBy[0].high, 0.3);
        // On another bench there is nothing to take hold of.
        window_->showBench(1);
        QVERIFY(stage->handles().empty());
    }
    void theEmittedCodeDrawsWhatTheCoreComputes_data() {
        QTest::addColumn<QString>("model");
        for (const char* model : {"skate", "gull", "bulrush", "windsock", "anemone", "lantern", "swell"}) {
            QTest::addRow("%s", model) << model;
        }
    }
    void theEmittedCodeDrawsWhatTheCoreComputes() {
        QFETCH(QString, model);
        openDemo(qPrintable(model + ".curly"));
        session().look([](project::View& view) { view.look = "normals"; }); // shows the normals too
        session().playhead().setTurn(0.3);
        const QImage gpu = picture();
        window_->stage()->drawScoresOnGpu(false);
        const QImage poses = picture();
        QVERIFY2(tests::difference(gpu, poses) < 0.02,
                 qPrintable(QString::number(tests::difference(gpu, poses))));
        session().playhead().setTurn(0.75); // the two do move
        QVERIFY(tests::difference(picture(), poses) > 0.1);
        window_->stage()->drawScoresOnGpu(true);
        const QImage later = picture();
        QVERIFY(tests::difference(later, gpu) > 0.1);
    }
};

static const ripple::tests::SuiteOf<TestHandlesWindow> kSuite;
#include "test_handles_window.moc"
