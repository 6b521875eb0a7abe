// Parameters in the real window: dots before numbers, and the strip's page, by mouse and keyboard.

#include "app/benches/move/parameters_page.h"
#include "app/look/parameter_dot.h"
#include "app/look/value_slider.h"
#include "emit/score_code.h"
#include "move_window.h"
#include "motion/perform.h"
#include "suite.h"

using namespace ripple;
using namespace ripple::app;

class TestParametersWindow : public tests::MoveWindow {
    Q_OBJECT

    void click(const QString& name) {
        auto* button = find<QAbstractButton>(name);
        QVERIFY2(button && button->isVisible(), qPrintable(name));
        QTest::mouseClick(button, Qt::LeftButton);
        QVERIFY(idle());
    }
    void openPage() {
        window_->bench(2).showStrip(1);
        QVERIFY(idle());
    }
    /// The text of the code that the stage runs, in which numbers are loose.
    std::string stageCode() {
        return emit::scoreCode(emit::glsl(), "stage", session().performance()->composition(),
                               {.numbers = emit::Numbers::loose})
            .code;
    }
    const motion::Parameter& only() { return score().parameters.at(0); }

private Q_SLOTS:
    void aDotMakesAParameterAndAPlainNumberAgain() {
        openDemo("skate.curly");
        project::Document before = session().document();
        click("amplitude dot");
        QCOMPARE(score().parameters.size(), std::size_t(1));
        QCOMPARE(only().field, std::string("amplitude"));
        QCOMPARE(only().voice, score().voices[0].id);
        QVERIFY(find<ParameterDot>("amplitude dot")->isChecked());
        undoesAndRedoes(before);
        // By the keyboard, a direction: its heading and its rise.
        part("Direction");
        auto* dot = find<ParameterDot>("course direction dot");
        QVERIFY(dot);
        dot->setFocus();
        QTest::keyClick(dot, Qt::Key_Space);
        QVERIFY(idle());
        QCOMPARE(score().parameters.size(), std::size_t(3));
        QCOMPARE(score().parameters[2].field, std::string("course direction rise"));
        before = session().document();
        click("course direction dot");
        QCOMPARE(score().parameters.size(), std::size_t(1));
        undoesAndRedoes(before);
        part("Masks");
        click("low 0 dot");
        QCOMPARE(score().parameters.back().field, std::string("mask 1 low"));
        QVERIFY(!session().scoreProblem());
    }
    void slidersActAtOnceAndCompileNothing() {
        openDemo("bulrush.curly");
        openPage();
        click("0 heading parameter");
        click("0 strength parameter");
        const std::string code = stageCode();
        const QImage still = picture();
        const project::Document before = session().document();
        auto* slider = find<ValueSlider>("0 heading slider");
        QVERIFY(slider && slider->isVisible());
        const QPoint handle = slider->rect().center(); // heading 0 lies in the middle
        QTest::mousePress(slider, Qt::LeftButton, {}, handle);
        for (int x = 5; x <= 25; x += 5) {
            QTest::mouseMove(slider, handle + QPoint(x, 0));
            QTest::qWait(5);
        }
        QTest::mouseRelease(slider, Qt::LeftButton, {}, handle + QPoint(25, 0));
        QVERIFY(idle());
        QVERIFY(score().overall.heading > 30.0);
        QVERIFY(stageCode() == code);
        QVERIFY(tests::difference(picture(), still) > 0.05); // it leans another way
        session().undoStack().undo();                        // a drag is one step
        QCOMPARE(score().overall.heading, 0.0);
        session().undoStack().redo();
        session().undoStack().undo();
        QCOMPARE(session().document().score, before.score);
        // Keys: to the end, and one step back.
        slider = find<ValueSlider>("0 strength slider");
        slider->setFocus();
        QTest::keyClick(slider, Qt::Key_End);
        QCOMPARE(score().overall.strength, 2.0);
        QTest::keyClick(slider, Qt::Key_Left);
        QCOMPARE(score().overall.strength, 1.98);
        QVERIFY(idle());
        QVERIFY(stageCode() == code);
    }
    void wholeNumbersStayWhole() {
        openDemo("bulrush.curly");
        openPage();
        auto* rate = find<ValueSlider>("0 rate slider");
        rate->setFocus();
        QTest::keyClick(rate, Qt::Key_Right);
        QCOMPARE(score().overall.rate, 2);
        type("0 rate value", "2.5");
        QCOMPARE(score().overall.rate, 2);
        QVERIFY(score().parameters.empty()); // it is set, and frozen into the code
    }
    void namesRangesAndHelpAreSet() {
        openDemo("skate.curly");
        click("amplitude dot");
        openPage();
        const QString row = QString("%1 amplitude").arg(score().voices[0].id);
        const auto typeInto = [&](const QString& name, const QString& words) {
            auto* line = find<QLineEdit>(name);
            QVERIFY2(line && line->isVisible(), qPrintable(name));
            line->setFocus();
            line->selectAll();
            QTest::keyClicks(line, words);
            QTest::keyClick(line, Qt::Key_Return);
            QVERIFY(idle());
        };
        project::Document before = session().document();
        typeInto(row + " name", "how deep");
        QCOMPARE(only().name, std::string("how deep"));
        undoesAndRedoes(before);
        typeInto(row + " name", "flat"); // a word of the language
        QCOMPARE(only().name, std::string("how deep"));
        QCOMPARE(find<QLineEdit>(row + " name")->text(), QString("how deep"));
        before = session().document();
        const double most = only().most;
        type(row + " most", "90 cm");
        QVERIFY(std::abs(only().most - 0.9) < 1e-9 && most != only().most);
        undoesAndRedoes(before);
        before = session().document();
        typeInto("parameter help", "How deep the wings beat");
        QCOMPARE(only().help, std::string("How deep the wings beat"));
        undoesAndRedoes(before);
        // A value beyond the range takes the range along.
        type(row + " value", "100 cm");
        QCOMPARE(only().most, 1.0);
        QVERIFY(!session().scoreProblem());
    }
    void theirOrderIsTheirOrderInCode() {
        openDemo("skate.curly");
        click("amplitude dot");
        click("phase dot");
        openPage();
        const project::Document before = session().document();
        click(QString("%1 phase up").arg(score().voices[0].id));
        QCOMPARE(score().parameters[0].field, std::string("phase"));
        undoesAndRedoes(before);
        // What all voices follow comes first, whenever it was made.
        click("0 rate parameter");
        QCOMPARE(score().parameters[0].field, std::string("rate"));
    }
    void aNumberThatGoesTakesItsParameterAlong() {
        openDemo("skate.curly");
        click("wavelength dot");
        QCOMPARE(score().parameters.size(), std::size_t(1));
        card(0)->choose("course");
        take("choices", "in unison");
        QVERIFY(score().parameters.empty());
        session().undoStack().undo();
        QCOMPARE(score().parameters.size(), std::size_t(1));
        removeVoice(session(), score().voices[0].id);
        QVERIFY(score().parameters.empty());
        QVERIFY(!session().scoreProblem());
    }
    void boundsCoverTheRanges() {
        openDemoAndMeasure("bulrush.curly");
        QTRY_VERIFY(session().loopBounds());
        const float before = session().loopBounds()->unturned.size().x;
        setParameters(session(), 0, {"heading"}, true, "Heading");
        QTRY_VERIFY(session().loopBounds() && session().loopBounds()->unturned.size().x > before);
        QVERIFY(session().loopBounds()->unturned.size().x < 3.0f * before);
    }
};

static const ripple::tests::SuiteOf<TestParametersWindow> kSuite;
#include "test_parameters_window.moc"
