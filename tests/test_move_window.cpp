// The Move bench in the real window, by mouse and keyboard.

#include "move_window.h"
#include "suite.h"

using namespace ripple;
using namespace ripple::app;

class TestMoveWindow : public tests::MoveWindow {
    Q_OBJECT

private Q_SLOTS:
    void theSkateComesWithItsScore() {
        openDemoAndMeasure("skate.curly");
        QCOMPARE(score().voices.size(), std::size_t(3));
        QVERIFY(session().performance());
        QCOMPARE(window_->size(), QSize(1280, 800));
        QVERIFY(window_->minimumSizeHint().width() <= 1280);
        // The stage shows what the core computes: the pose at the playhead's turn.
        session().playhead().setTurn(0.25);
        QVERIFY(idle());
        std::vector<glm::vec3> wanted(session().performance()->vertexCount());
        session().performance()->pose(session().playhead().turn(), {}, wanted, {});
        for (std::size_t v = 0; v < wanted.size(); v += 97) {
            QVERIFY(glm::distance(window_->stage()->sourcePosition(static_cast<int>(v)), wanted[v]) < 1e-4f);
        }
        // And it can be baked like any other source: closed, without a gap.
        QVERIFY(session().bake());
        QVERIFY(session().bake()->baked.textures.clips[0].closed);
        QVERIFY(session().bake()->seams[0].gap <= session().bake()->seams[0].medianStep);
    }
    void aVoiceIsAddedAndItsWordsAreChanged() {
        openDemo("skate.glb");
        QVERIFY(!session().performance());
        QVERIFY(find<QWidget>("ready wings")->isVisible());
        project::Document before = session().document();
        QTest::mouseClick(find<QPushButton>("addVoice"), Qt::LeftButton);
        take("newVoices", "Wave");
        QCOMPARE(score().voices.size(), std::size_t(1));
        QVERIFY(session().performance());
        QVERIFY(card(0)->isVisible());
        undoesAndRedoes(before);
        const auto changed = [&](const char* part, const QString& to) {
            before = session().document();
            card(0)->choose(part);
            take("choices", to);
            undoesAndRedoes(before);
        };
        changed("course", "along the height");
        QCOMPARE(score().voices[0].course.direction, glm::vec3(0, 1, 0));
        changed("shape", "a crested");
        QVERIFY(score().voices[0].shape.kind == motion::ShapeKind::crested);
        QVERIFY(find<NumberField>("sharpness"));
        changed("push", "bends about X");
        QVERIFY(score().voices[0].push.kind == motion::PushKind::bend);
        part("Swing");
        QTRY_VERIFY(find<NumberField>("angle") && !find<NumberField>("amplitude"));
        changed("mask", "hold at the front");
        QCOMPARE(score().voices[0].heldBy.size(), std::size_t(1));
        changed("mask", "no longer held");
        QVERIFY(score().voices[0].heldBy.empty());
        QVERIFY(!session().scoreProblem());
    }
    void readyMadeScoresAreTakenByAClick() {
        openDemo("gull.glb");
        const project::Document before = session().document();
        QTest::mouseClick(find<QWidget>("ready beat"), Qt::LeftButton);
        QVERIFY(idle());
        QCOMPARE(score().voices.size(), std::size_t(5));
        QCOMPARE(score().name, std::string("Wing beat"));
        QVERIFY(!find<QWidget>("ready beat") || !find<QWidget>("ready beat")->isVisible());
        undoesAndRedoes(before);
    }
    void numbersAreTyped() {
        openDemo("skate.curly");
        project::Document before = session().document();
        type("amplitude", "20");
        QCOMPARE(score().voices[0].amplitude.value, 0.20);
        undoesAndRedoes(before);
        type("turns", "3");
        QCOMPARE(score().voices[0].turns, 3);
        type("phase", "0.25");
        QCOMPARE(score().voices[0].phase, 0.25);
        type("loop", "4");
        QCOMPARE(score().loopSeconds, 4.0);
        QCOMPARE(session().source()->clips()[0].duration, 4.0);
        part("Masks");
        type("low 0", "10");
        QCOMPARE(score().voices[0].heldBy[0].low, 0.10);
    }
    void unitsAreTypedAndChangeOver() {
        openDemo("skate.curly");
        const double size = session().performance()->model().size;
        project::Document before = session().document();
        type("amplitude", "120 mm");
        QCOMPARE(score().voices[0].amplitude, (motion::Length{0.12, false}));
        undoesAndRedoes(before);
        // A share of the model's size where a length was, and back by a click on what it comes to.
        before = session().document();
        type("amplitude", "5 %");
        QCOMPARE(score().voices[0].amplitude, (motion::Length{0.05, true}));
        undoesAndRedoes(before);
        QCOMPARE(find<NumberField>("amplitude")->text(), QString("5 %"));
        before = session().document();
        QTest::mouseClick(find<QPushButton>("amplitude other"), Qt::LeftButton);
        QVERIFY(idle());
        QVERIFY(!score().voices[0].amplitude.ofSize);
        QVERIFY(std::abs(score().voices[0].amplitude.value - 0.05 * size) < 1e-12);
        undoesAndRedoes(before);
        type("phase", "90°");
        QCOMPARE(score().voices[0].phase, 0.25);
        // What is no length changes nothing.
        before = session().document();
        type("amplitude", "3 kg");
        QCOMPARE(session().document().score, before.score);
    }
    void directionsAndPivotsAreTyped() {
        openDemo("skate.curly");
        part("Direction");
        project::Document before = session().document();
        type("push direction X", "1");
        QCOMPARE(score().voices[0].push.direction, glm::vec3(1, 1, 0)); // it was up: now a slant
        undoesAndRedoes(before);
        QVERIFY(pushWords(score().voices[0]).contains("a custom direction"));
        chooseVoice(session(), score().voices[1].id);
        QVERIFY(idle());
        before = session().document();
        const glm::vec3 pivot = score().voices[1].push.point;
        type("push point Z", "0.25 m");
        QCOMPARE(score().voices[1].push.point, glm::vec3(pivot.x, pivot.y, 0.25f));
        undoesAndRedoes(before);
        before = session().document();
        type("span", "40 %");
        QCOMPARE(score().voices[1].push.span, (motion::Length{0.4, true}));
        undoesAndRedoes(before);
        QVERIFY(!session().scoreProblem());
        // The hinge laid along what it bends: said, with the voice and the field, and undone.
        const glm::vec3 along = score().voices[1].push.length;
        editVoice(session(), score().voices[1].id, "along",
                  [&](motion::Voice& v) { v.push.direction = along; });
        QVERIFY(idle());
        QVERIFY(session().scoreProblem());
        const QString said = QString::fromStdString(session().scoreProblem()->line());
        QVERIFY2(said.contains("\"Tail sway\", hinge: runs along the length"), qPrintable(said));
        session().undoStack().undo();
        QVERIFY(idle());
        QVERIFY(!session().scoreProblem());
    }
    void whatHoldsAVoiceIsEdited() {
        openDemo("skate.curly");
        part("Masks");
        project::Document before = session().document();
        auto* easing = find<QComboBox>("easing 0");
        easing->setFocus();
        QTest::keyClick(easing, Qt::Key_Down);
        QVERIFY(idle());
        QVERIFY(score().voices[0].heldBy[0].easing != before.score.voices[0].heldBy[0].easing);
        undoesAndRedoes(before);
        before = session().document();
        QTest::mouseClick(find<TickBox>("flip 0"), Qt::LeftButton);
        QVERIFY(idle());
        QVERIFY(score().voices[0].heldBy[0].flip);
        undoesAndRedoes(before);
        before = session().document();
        QTest::mouseClick(find<QPushButton>("addHold"), Qt::LeftButton);
        take("choices", "hold at the front");
        QCOMPARE(score().voices[0].heldBy.size(), std::size_t(2));
        undoesAndRedoes(before);
        QTRY_VERIFY(find<NumberField>("floor 1"));
        type("floor 1", "8 %");
        QCOMPARE(score().voices[0].heldBy[1].floor, 0.08);
        // Half a millimetre is not rounded away.
        type("low 0", "74.5 mm");
        QCOMPARE(score().voices[0].heldBy[0].low, 0.0745);
        // The first is let go; the second stays, with its floor.
        before = session().document();
        QTest::mouseClick(find<QPushButton>("let go 0"), Qt::LeftButton);
        QVERIFY(idle());
        QCOMPARE(score().voices[0].heldBy.size(), std::size_t(1));
        QCOMPARE(score().voices[0].heldBy[0].floor, 0.08);
        undoesAndRedoes(before);
    }
    void copiesAreSetApart() {
        openDemo("skate.curly");
        part("Copies");
        const auto choose = [&](int down) {
            auto* box = find<QComboBox>("copies");
            box->setFocus();
            for (int i = 0; i < down; ++i) {
                QTest::keyClick(find<QComboBox>("copies"), Qt::Key_Down);
                QVERIFY(idle());
            }
        };
        const project::Document before = session().document();
        choose(1);
        QVERIFY(score().voices[0].copyPhase.kind == motion::PhaseKind::id);
        undoesAndRedoes(before);
        type("copies turns", "2");
        QCOMPARE(score().voices[0].copyPhase.turns, 2.0);
        choose(1);
        QVERIFY(score().voices[0].copyPhase.kind == motion::PhaseKind::world);
        type("copies wavelength", "250 cm");
        QCOMPARE(score().voices[0].copyPhase.wavelength, 2.5);
        type("copies direction Z", "1");
        QCOMPARE(score().voices[0].copyPhase.direction, glm::vec3(1, 0, 1));
        // Two copies that stand apart along it are as far apart in their turn.
        motion::Copy here;
        motion::Copy there;
        there.origin = glm::normalize(glm::vec3(1, 0, 1)) * 1.25f; // half a turn on
        const auto& composition = session().performance()->composition();
        const double now = 0.0;
        const double later = 0.5;
        const auto a = session().performance()->trace(820, {&now, 1}, there, composition.voices[0].push)[0];
        const auto b = session().performance()->trace(820, {&later, 1}, here, composition.voices[0].push)[0];
        // This voice has two turns in the loop: half a turn of its swing is a quarter of the loop.
        const double quarter = 0.25;
        const auto c =
            session().performance()->trace(820, {&quarter, 1}, here, composition.voices[0].push)[0];
        QVERIFY(glm::distance(a, c) < 1e-5f);
        QVERIFY(glm::distance(a, b) > 1e-3f);
    }
    void anotherMeshOffersItsOwnValues() {
        openDemo("bulrush.curly"); // its stems store a value each
        part("Copies");
        auto* box = find<QComboBox>("copies");
        const int choices = box->count();
        // The same voices on a mesh that stores nothing.
        session().edit("A sheet", [](project::Document& d) {
            for (motion::Voice& voice : d.score.voices) {
                voice.copyPhase = {};
            }
            d.source.shape = mesh::TestShape{"sheet", 1.0, 8, 8};
        });
        QVERIFY(idle());
        QCOMPARE(find<QComboBox>("copies")->count(), choices - 1);
    }
    void aCurveIsDrawnByHand() {
        openDemo("skate.curly");
        editVoice(session(), score().voices[0].id, "curve",
                  [](motion::Voice& v) { v.shape.kind = motion::ShapeKind::curve; });
        QVERIFY(idle());
        auto* editor = find<CurveEditor>("curve");
        QVERIFY(editor && editor->isVisible());
        QCOMPARE(editor->curve(), score().voices[0].shape.curve);
        // A point is dragged to the middle: one step, and only it moves.
        project::Document before = session().document();
        const std::vector<float> was = score().voices[0].shape.curve;
        const QPoint from = editor->placeOf(1).toPoint();
        const int middle = editor->placeOf(0).toPoint().y(); // its value is 0
        QTest::mousePress(editor, Qt::LeftButton, {}, from);
        for (int step = 1; step <= 8; ++step) {
            QTest::mouseMove(editor, from + QPoint(0, (middle - from.y()) * step / 8));
            QTest::qWait(5);
        }
        QTest::mouseRelease(editor, Qt::LeftButton, {}, QPoint(from.x(), middle));
        QVERIFY(idle());
        QCOMPARE(find<CurveEditor>("curve"), editor); // it is still in the hand
        std::vector<float> now = score().voices[0].shape.curve;
        QVERIFY(std::abs(now[1]) < 0.03f);
        now[1] = was[1];
        QCOMPARE(now, was);
        undoesAndRedoes(before);
        // A stroke along the bottom sets every point that it passes.
        before = session().document();
        const QPoint low(editor->placeOf(2).toPoint().x(), editor->height() - 20);
        const QPoint end(editor->placeOf(6).toPoint().x(), editor->height() - 20);
        QTest::mousePress(editor, Qt::LeftButton, {}, low);
        QTest::mouseMove(editor, end); // in one leap: none is left out
        QTest::mouseRelease(editor, Qt::LeftButton, {}, end);
        QVERIFY(idle());
        for (std::size_t i = 2; i <= 6; ++i) {
            QVERIFY(score().voices[0].shape.curve[i] < -0.9f);
        }
        QVERIFY(score().voices[0].shape.curve[7] > -0.9f);
        undoesAndRedoes(before);
        // By keyboard, and with more points.
        before = session().document();
        editor->setFocus();
        QTest::keyClick(editor, Qt::Key_Up);
        QVERIFY(idle());
        QVERIFY(score().voices[0].shape.curve != before.score.voices[0].shape.curve);
        type("points", "16");
        QCOMPARE(score().voices[0].shape.curve.size(), std::size_t(16));
        QVERIFY(!session().scoreProblem());
    }
    void scoresComeFromFilesAndGoIntoThem() {
        openDemo("skate.curly");
        QTemporaryDir folder;
        const QString file = folder.filePath("wings.score");
        motion::Score score = this->score();
        score.voices.resize(2);
        score.voices[1].id = score.voices[0].id; // two that would be taken for one
        motion::saveScore(score, file.toStdString());
        const project::Document before = session().document();
        window_->openPath(file); // as when it is dropped
        QVERIFY(idle());
        QCOMPARE(this->score().voices.size(), std::size_t(2));
        QVERIFY(this->score().voices[0].id != this->score().voices[1].id);
        undoesAndRedoes(before);
        // One from a newer version is refused in words; what is open stays.
        QFile newer(file);
        QVERIFY(newer.open(QIODevice::ReadWrite));
        QByteArray text = newer.readAll();
        QVERIFY(text.contains("\"version\": 1"));
        newer.seek(0);
        newer.write(text.replace("\"version\": 1", "\"version\": 9"));
        newer.close();
        const project::Document now = session().document();
        window_->openPath(file);
        QVERIFY(idle());
        QVERIFY(window_->findingsLine()->words().contains("newer"));
        QCOMPARE(session().document().score, now.score);
    }
    void voicesAreRenamed() {
        openDemo("skate.curly");
        const project::Document before = session().document();
        auto* name = find<QLineEdit>("voiceName");
        QTest::mouseClick(name, Qt::LeftButton);
        name->selectAll();
        QTest::keyClicks(name, "Fin ripple");
        QTest::keyClick(name, Qt::Key_Return);
        QVERIFY(idle());
        QCOMPARE(score().voices[0].name, std::string("Fin ripple"));
        undoesAndRedoes(before);
        name->selectAll();
        QTest::keyClick(name, Qt::Key_Delete); // no name: it keeps the one it has
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(score().voices[0].name, std::string("Fin ripple"));
        QCOMPARE(name->text(), QString("Fin ripple"));
    }
    void wishedRatesBecomeTurnsThatClose() {
        openDemo("skate.curly"); // a loop of 2.4 s
        QVERIFY(!find<QPushButton>("findLoop")->isVisible());
        project::Document before = session().document();
        type("wishedRate", "1.5"); // 3.6 turns
        QCOMPARE(score().voices[0].turns, 4);
        QCOMPARE(score().voices[0].wishedRate, 1.5);
        undoesAndRedoes(before);
        QTRY_VERIFY(find<QPushButton>("findLoop")->isVisible());
        before = session().document();
        QTest::mouseClick(find<QPushButton>("findLoop"), Qt::LeftButton);
        QVERIFY(idle());
        const double turns = 1.5 * score().loopSeconds;
        QVERIFY(std::abs(turns - std::round(turns)) < 1e-9);
        QCOMPARE(score().voices[0].turns, static_cast<int>(std::lround(turns)));
        QCOMPARE(score().voices[1].turns, 1); // nobody asked it for a rate
        undoesAndRedoes(before);
        // A speed becomes a rate: 2 m/s of waves of that length.
        before = session().document();
        type("waveSpeed", "2");
        const double wave = score().voices[0].wavelength.metres(session().performance()->model().size);
        QVERIFY(std::abs(score().voices[0].wishedRate - 2.0 / wave) < 1e-12);
        QCOMPARE(score().voices[0].turns, static_cast<int>(std::lround(2.0 / wave * score().loopSeconds)));
        undoesAndRedoes(before);
        before = session().document();
        type("turns", "2.5"); // does not close: not offered, and said
        QCOMPARE(session().document().score, before.score);
        QVERIFY(QToolTip::text().contains("2 or 3"));
        type("turns", "5"); // by hand: the wish is gone
        QCOMPARE(score().voices[0].wishedRate, 0.0);
    }
    void theBoxOfTheLoopIsShown() {
        openDemoAndMeasure("gull.curly");
        QTRY_VERIFY(session().loopBounds());
        const mesh::Bounds box = session().loopBounds()->unturned;
        const auto* label = find<QLabel>("loopBounds");
        QVERIFY(label->isVisible());
        QVERIFY(label->text().contains(
            QString::fromStdString(base::lengthText(static_cast<double>(box.size().x)))));
        std::vector<glm::vec3> pose(session().performance()->vertexCount());
        for (int i = 0; i < 32; ++i) {
            session().performance()->pose(i / 32.0, {}, pose, {});
            for (const glm::vec3& p : pose) {
                QVERIFY(glm::all(glm::lessThanEqual(box.min, p)) && glm::all(glm::lessThanEqual(p, box.max)));
            }
        }
    }
    void aScorePlaysOnTopOfClips() {
        openDemo("heron.curly");
        QTest::mouseClick(find<QPushButton>("addVoice"), Qt::LeftButton);
        take("newVoices", "Wave");
        QCOMPARE(session().source()->clips().size(), std::size_t(1));
        auto* choice = find<SegmentedChoice>("playOn");
        QVERIFY(choice->isVisible());
        const project::Document before = session().document();
        QTest::mouseClick(choice->findChildren<QAbstractButton*>()[1], Qt::LeftButton);
        QVERIFY(idle());
        QVERIFY(session().document().scoreOnTop);
        QCOMPARE(session().source()->clips().size(), session().openedSource()->clips().size());
        undoesAndRedoes(before);
    }
    void singleKeysFlipTurnAndSolo() {
        openDemo("skate.curly");
        chooseVoice(session(), score().voices[0].id);
        project::Document before = session().document();
        key(Qt::Key_F);
        QVERIFY(score().voices[0].heldBy[0].flip);
        undoesAndRedoes(before);
        before = session().document();
        key(Qt::Key_A);
        QCOMPARE(score().voices[0].course.direction, glm::vec3(1, 0, 0)); // after −Z comes X
        undoesAndRedoes(before);
        before = session().document();
        key(Qt::Key_A, Qt::ShiftModifier);
        QCOMPARE(score().voices[0].push.direction, glm::vec3(0, 0, 1));
        undoesAndRedoes(before);
        before = session().document();
        key(Qt::Key_Q);
        QVERIFY(score().voices[0].solo);
        QVERIFY(!motion::isHeard(score(), score().voices[1]));
        undoesAndRedoes(before);
        key(Qt::Key_Q, Qt::ShiftModifier);
        QVERIFY(score().voices[0].muted);
        key(Qt::Key_G);
        QCOMPARE(chosenVoice(session())->id, score().voices[1].id);
        before = session().document();
        key(Qt::Key_D, Qt::ControlModifier);
        QCOMPARE(score().voices.size(), std::size_t(4));
        QCOMPARE(score().voices[2].name, std::string("Tail sway 2"));
        undoesAndRedoes(before);
        before = session().document();
        key(Qt::Key_Delete);
        QCOMPARE(score().voices.size(), std::size_t(3));
        undoesAndRedoes(before);
    }
    void cardsHaveTheirButtonsAndAreDragged() {
        openDemo("skate.curly");
        project::Document before = session().document();
        const unsigned first = score().voices[0].id;
        QTest::mouseClick(find<QToolButton>(QString("solo %1").arg(first)), Qt::LeftButton);
        QVERIFY(idle());
        QVERIFY(score().voices[0].solo);
        undoesAndRedoes(before);
        session().undoStack().undo();
        QVERIFY(idle());
        before = session().document();
        VoiceCard* top = card(0);
        const int below = card(1)->geometry().bottom() - top->geometry().top();
        const QPoint from(40, 12);
        QTest::mousePress(top, Qt::LeftButton, {}, from);
        for (int step = 1; step <= 10; ++step) {
            // The card follows, so that the hand stays where it took hold of it.
            QTest::mouseMove(top, from + QPoint(0, below / 10));
            QTest::qWait(5);
        }
        QTest::mouseRelease(top, Qt::LeftButton, {}, from);
        QVERIFY(idle());
        QCOMPARE(score().voices[0].name, std::string("Tail sway"));
        QCOMPARE(score().voices[1].name, std::string("Wing wave"));
        undoesAndRedoes(before);
    }
    void theMaskIsSeenAsGreyWithItsNumber() {
        openDemo("skate.curly");
        const QImage lit = picture();
        key(Qt::Key_H);
        QCOMPARE(session().document().view.look, std::string("mask"));
        QVERIFY(tests::difference(picture(), lit) > 1.0);
        const auto& shades = window_->stage()->shades();
        const auto mask =
            session().performance()->values(session().performance()->composition().voices[0].mask, 0.0, {});
        for (std::size_t v = 0; v < mask.size(); v += 53) {
            QVERIFY(std::abs(shades.colours[v].r - mask[v]) < 1e-5f);
            QCOMPARE(shades.colours[v].r, shades.colours[v].g);
        }
        session().pickVertex(40);
        session().look([](project::View& view) { view.curtain = 0.4; }); // asks for the shades anew
        QVERIFY(idle());
        QVERIFY(window_->stage()->shades().title.contains(
            QString::number(static_cast<double>(mask[40]), 'f', 3)));
        key(Qt::Key_H); // again: the shape
        QCOMPARE(session().document().view.probe, std::string("shape"));
        QCOMPARE(window_->stage()->shades().least, QString("-1.00"));
        key(Qt::Key_T);
        QVERIFY(window_->stage()->shades().most.contains("%"));
    }
    void theTraceFollowsThePickedVertex() {
        openDemo("skate.curly");
        auto* chart = find<TraceChart>("trace");
        // Until one is picked it is the vertex that moves furthest.
        QCOMPARE(chart->lines().size(), std::size_t(3));
        const std::size_t furthest = motion::furthestVertex(*session().performance());
        QVERIFY(
            find<QLabel>("traceWhose")->text().contains(QString::fromStdString(base::countText(furthest))));
        session().pickVertex(820);
        QVERIFY(idle());
        QCOMPARE(find<QLabel>("traceWhose")->text(), QString("Vertex 820"));
        QCOMPARE(chart->lines().size(), std::size_t(3));
        for (const TraceChart::Line& line : chart->lines()) {
            // The second loop is the first again: the seam does not show.
            for (std::size_t i = 0; i < 120; ++i) {
                QVERIFY(std::abs(line.values[i] - line.values[i + 120]) < 1e-5f);
            }
        }
        const auto buttons = find<SegmentedChoice>("traceOf")->findChildren<QAbstractButton*>();
        QTest::mouseClick(buttons[1], Qt::LeftButton);
        QCOMPARE(chart->lines().size(), std::size_t(3)); // axes
        QVERIFY(chart->lines()[1].most > 0.05f);
        QTest::mouseClick(chart, Qt::LeftButton, {}, QPoint(chart->width() / 2, 40));
        QVERIFY(session().playhead().turn() > 0.5);
        QTest::mouseClick(buttons[0], Qt::LeftButton);
    }
    void theDialDrawsAnotherRingForAnotherScore() {
        openDemo("skate.curly");
        auto* dial = find<Dial>("dial");
        const QImage before = dial->grab().toImage();
        type("turns", "5");
        QVERIFY(dial->grab().toImage() != before);
    }
    void aMeshThatIsTooCoarseIsSaidAndSubdivided() {
        openDemoAndMeasure("gull.curly");
        const std::size_t vertices = session().source()->mesh().vertexCount();
        editVoice(session(), score().voices[0].id, "short waves", [](motion::Voice& voice) {
            voice.push.kind = motion::PushKind::normal;
            voice.course.kind = motion::CourseKind::direction;
            voice.course.direction = {1, 0, 0};
            voice.wavelength = {0.09, false};
        });
        QVERIFY(idle());
        const auto findings = openFindings(session());
        const auto found = std::find_if(findings.begin(), findings.end(), [](const OpenFinding& one) {
            return one.bench == "move" && one.title.contains("finer than the mesh");
        });
        QVERIFY(found != findings.end());
        found->show();
        QCOMPARE(session().document().view.look, std::string("density"));
        const auto fix = found->fixes.at(0).run;
        fix();
        QVERIFY(idle());
        QVERIFY(session().source()->mesh().vertexCount() > 3 * vertices);
        for (const OpenFinding& one : openFindings(session())) {
            QVERIFY(!one.title.contains("finer than the mesh"));
        }
    }
    void lengthsSuitTheModel() {
        openDemo("swell.curly");
        part("Swing");
        const auto sized = [&](double metres) {
            session().edit("size", [metres](project::Document& d) {
                d.source.shape = mesh::TestShape{"sheet", metres, 16, 16};
            });
            idle();
        };
        sized(170.0);
        type("amplitude", "2 m");
        QCOMPARE(find<NumberField>("amplitude")->text(), QString("2 m"));
        QCOMPARE(score().voices[0].amplitude.metres(170.0), 2.0);
        sized(0.03);
        type("amplitude", "1.5 mm");
        QCOMPARE(find<NumberField>("amplitude")->text(), QString("1.5 mm"));
        sized(2.0);
        type("amplitude", "3 cm");
        QCOMPARE(find<NumberField>("amplitude")->text(), QString("3 cm"));
    }
    void noVoiceVanishesUnsaid() {
        openDemo("skate.curly");
        const motion::Voice like = score().voices[0];
        session().edit("many", [&](project::Document& d) {
            for (unsigned i = 0; i < 21; ++i) {
                d.score.voices.push_back(like);
                d.score.voices.back().id = 100 + i;
                d.score.voices.back().name = "Voice " + std::to_string(i);
            }
        });
        session().look([](project::View& view) { view.voice = 120; }); // the last one
        QVERIFY(idle());
        Dial& dial = *window_->dial();
        dial.grab();
        QVERIFY(dial.ringCount() > 5 && dial.voicesLeftOut() > 0);
        QCOMPARE(static_cast<int>(dial.ringCount()) + dial.voicesLeftOut(), 24);
        const QImage one = dial.grab().toImage();
        session().look([](project::View& view) { view.voice = 119; });
        QVERIFY(idle());
        QVERIFY(dial.grab().toImage() != one); // whichever is chosen has its ring
        window_->bench(2).showStrip(0);
        auto* chart = find<TraceChart>();
        QTRY_COMPARE(chart->lines().size(), std::size_t(24));
        QVERIFY(chart->height() >= 24 * 19); // what does not fit the strip is scrolled to
    }
    void whatCannotPlayIsSaid() {
        openDemo("skate.curly");
        editVoice(session(), score().voices[0].id, "bad",
                  [](motion::Voice& v) { v.course.direction = glm::vec3(0.0f); });
        QVERIFY(idle());
        QVERIFY(session().scoreProblem());
        QVERIFY(!session().performance());
        const auto findings = openFindings(session());
        QVERIFY(std::any_of(findings.begin(), findings.end(), [](const OpenFinding& one) {
            return one.bench == "move" && one.words.contains("Wing wave");
        }));
        session().undoStack().undo();
        QVERIFY(idle());
        QVERIFY(session().performance());
    }
    void fiftyVoicesFit() {
        openDemoAndMeasure("skate.curly");
        const motion::Voice one = score().voices[0];
        session().edit("fifty", [&](project::Document& d) {
            for (unsigned i = 0; i < 47; ++i) {
                d.score.voices.push_back(one);
                d.score.voices.back().id = 100 + i;
                d.score.voices.back().amplitude.value *= 0.02;
            }
        });
        QVERIFY(idle());
        QTRY_COMPARE(window_->findChildren<VoiceCard*>().size(), 50);
        QVERIFY(session().bake());
        QCOMPARE(window_->size(), QSize(1280, 800));
    }
};

static const ripple::tests::SuiteOf<TestMoveWindow> kSuite;
#include "test_move_window.moc"
