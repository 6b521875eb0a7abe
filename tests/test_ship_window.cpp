// Shipping a score as code in the real window, by mouse and keyboard.

#include "app/benches/ship/code_page.h"
#include "app/benches/ship/cost_page.h"
#include "app/benches/ship/returned_page.h"
#include "app/look/elided_label.h"
#include "base/units.h"
#include "bundle/check.h"
#include "move_window.h"
#include "suite.h"

#include <QLineEdit>
#include <QPlainTextEdit>
#include <QRegularExpression>

using namespace ripple;
using namespace ripple::app;

class TestShipWindow : public tests::MoveWindow {
    Q_OBJECT

    void toShip() {
        window_->showBench(4);
        QVERIFY(idle());
    }
    void choose(const char* choice, const QString& word) {
        click(find<SegmentedChoice>(choice)->findChild<QAbstractButton*>(word));
    }
    QString code() { return find<QPlainTextEdit>("code")->toPlainText(); }
    /// What stands beside a row's name on the Cost page.
    QString fact(const QString& name) {
        QString words;
        for (const ElidedLabel* label : find<CostPage>()->findChildren<ElidedLabel*>()) {
            const auto* beside = qobject_cast<const ElidedLabel*>(label->buddy());
            if (beside && label->text() == name) {
                words = beside->text(); // rows that were replaced may still be about to go: the last counts
            }
        }
        return words;
    }

private Q_SLOTS:
    /// What Scatter gives, the shipped bounds hold.
    void boundsHoldTheCopiesThatAreScattered() {
        openDemoAndMeasure("bulrushes.curly");
        toShip();
        choose("shipWhat", "score as code");
        choose("language", "GLSL");
        session().edit("wind",
                       [](project::Document& d) { d.score.voices[0].push.kind = motion::PushKind::world; });
        QTRY_VERIFY(code().contains("_unturned_bounds_max"));
        const QString before = code();
        session().edit("small", [](project::Document& d) { d.scatter.differences.leastSize = 0.1f; });
        QTRY_VERIFY(code() != before);
    }
    void aScoreIsShippedAsCode() {
        openDemo("skate.curly");
        toShip();
        QVERIFY(code().contains("skate_at_frame")); // what reads the bake
        QVERIFY(window_->stage()->curtainShown());
        project::Document before = session().document();
        choose("shipWhat", "score as code");
        QVERIFY(session().document().ship.asCode);
        undoesAndRedoes(before);
        QVERIFY(session().ship() && session().ship()->asCode);
        QVERIFY(code().contains("skate_moved skate_at_turn("));
        QVERIFY(!window_->stage()->curtainShown()); // there are no textures to decode
        choose("language", "HLSL");
        QVERIFY(code().contains("float3 rest_position"));
        choose("language", "WGSL");
        QVERIFY(code().contains("fn skate_at_turn("));
        before = session().document();
        click(find<TickBox>("exactSine"));
        QVERIFY(code().contains("skate_exact_sine") || code().contains("_sine("));
        undoesAndRedoes(before);
        before = session().document();
        auto* masks = find<TickBox>("storeMasks");
        masks->setFocus();
        QTest::keyClick(masks, Qt::Key_Space);
        QVERIFY(idle());
        QVERIFY(session().document().ship.storeMasks);
        QVERIFY(code().contains("stored_Wing_wave_mask"));
        undoesAndRedoes(before);
        // Half precision, which is good enough for a skate; where it is not, it is not offered.
        before = session().document();
        click(find<TickBox>("halfPrecision"));
        QVERIFY(session().document().ship.half);
        choose("language", "GLSL");
        QVERIFY(code().contains("mediump float"));
        undoesAndRedoes(before);
        session().undoStack().undo();
        QVERIFY(idle());
        session().edit("tolerance", [](project::Document& d) { d.tolerance.length = 1e-9; });
        QVERIFY(idle());
        QTRY_VERIFY(!find<TickBox>("halfPrecision")->isVisible());
        session().undoStack().undo();
        QVERIFY(idle());
        // Written, read back and checked, from the window.
        QTemporaryDir out;
        session().edit("folder", [&](project::Document& d) { d.ship.folder = out.path().toStdString(); });
        QVERIFY(idle());
        click(find<QPushButton>("write"));
        QTRY_VERIFY(session().lastCheck());
        QVERIFY(session().lastCheck()->ok());
        QVERIFY(QFile::exists(out.filePath("skate/skate.vertex.wgsl")));
        QVERIFY(!QFile::exists(out.filePath("skate/skate.position.png")));
        QVERIFY(bundle::check((out.path() + "/skate").toStdString(), nullptr).ok());
    }
    void onTopOfClipsThereIsNoCodeToShip() {
        openDemo("heron.curly");
        session().edit("voice", [](project::Document& d) { d.score.voices.emplace_back(); });
        QVERIFY(idle());
        toShip();
        QVERIFY(find<SegmentedChoice>("shipWhat")->isVisible());
        session().edit("top", [](project::Document& d) { d.scoreOnTop = true; });
        QVERIFY(idle());
        QVERIFY(!find<SegmentedChoice>("shipWhat")->isVisible());
        QVERIFY(code().contains("heron_at_frame"));
    }
    void whatTheCodeTakes() {
        openDemo("bulrush.curly");
        takeReady(session(), "shimmer");
        QVERIFY(idle());
        toShip();
        choose("shipWhat", "score as code");
        window_->bench(4).showStrip(1);
        QVERIFY(idle());
        const auto ship = session().ship();
        const bundle::CodeCost& cost = ship->cost;
        QCOMPARE(cost.voices.size(), std::size_t(3));
        QVERIFY(cost.pose.listed > 100 && cost.velocity.listed > 0);
        QVERIFY(cost.uvShift && !cost.alpha);
        QVERIFY(fact("Position and normal").contains(QString::number(cost.pose.listed)));
        QCOMPARE(fact("Sway adds"), QString::number(cost.voices[0].second));
        // Twice as high covers four times the pixels.
        const auto pixelWork = [&] {
            const QString words = fact("Texture shift, at the pixels").section(" instructions", 0, 0);
            return QString(words).remove(QRegularExpression("[^0-9]")).toDouble();
        };
        const double at400 = pixelWork();
        type("pixelsHigh", "800");
        const double at800 = pixelWork();
        QVERIFY2(at400 > 0.0 && std::abs(at800 / at400 - 4.0) < 0.01,
                 qPrintable(QString("%1 %2").arg(at400).arg(at800)));
        QVERIFY(!fact("After 100 hours").isEmpty());
        // The look that shows on the model what is lost.
        key(Qt::Key_I);
        QCOMPARE(session().document().view.look, std::string("interpolated"));
        QTRY_VERIFY(window_->stage()->shades().title.contains("lost per vertex"));
        QCOMPARE(window_->stage()->shades().colours.size(), session().source()->mesh().vertexCount());
    }
    /// What importers do wrong is drawn beside what is right, with what it costs.
    void faultsAreSeenBeforeTheyHappen() {
        openDemo("heron.curly");
        session().look([](project::View& view) { view.look = "lit"; });
        session().playhead().setFrame(20.0);
        toShip();
        window_->bench(4).showStrip(3);
        QVERIFY(idle());
        RehearsalStage& rehearsal = session().rehearsal();
        QTRY_COMPARE_WITH_TIMEOUT(rehearsal.alone().size(), bundle::faults().size(), 120000);
        QVERIFY(rehearsal.alone().at("premultiplied").idle.size() ==
                1); // its normals lie in their own texture
        const auto words = [&] { return find<QLabel>("faultsTogether")->text(); };
        const auto box = [&](const char* id) { return find<TickBox>(QString("fault-") + id); };
        const auto pictureAt = [&](double curtain) {
            session().look([curtain](project::View& view) { view.curtain = curtain; });
            return idle() ? window_->stage()->picture() : QImage();
        };
        const QImage source = pictureAt(1.0);
        QVERIFY(tests::difference(pictureAt(0.0), source) < 0.5);

        click(box("srgb-removed"));
        QTRY_VERIFY(rehearsal.together() && rehearsal.spoilt());
        const double alone = rehearsal.alone().at("srgb-removed").metres;
        QCOMPARE(rehearsal.together()->metres, alone);
        QVERIFY2(words().startsWith(QString::fromStdString(base::lengthText(alone))), qPrintable(words()));
        QVERIFY(tests::difference(pictureAt(0.0), source) > 1.0);
        QVERIFY(tests::difference(pictureAt(1.0), source) < 0.01); // the source's side stays
        QCOMPARE(session().undoStack().index(), 0);                // it is looked at, and changes nothing

        // By key, and another one with it.
        box("channels-swapped")->setFocus();
        QTest::keyClick(box("channels-swapped"), Qt::Key_Space);
        QTRY_VERIFY(rehearsal.together() && rehearsal.chosen().size() == 2);
        QVERIFY(words().startsWith("Together: "));
        click(box("srgb-removed"));
        click(box("channels-swapped"));
        QVERIFY(!rehearsal.spoilt() && rehearsal.chosen().empty());
        QVERIFY(tests::difference(pictureAt(0.0), source) < 0.5);

        // So is what is wrong about who reads, while the textures are right.
        for (const char* id : {"axes-turned", "unit-changed", "rotation-ignored"}) {
            click(box(id));
            QTRY_VERIFY2(rehearsal.together() && rehearsal.played(), id);
            QVERIFY2(!rehearsal.spoilt(), id);
            QVERIFY2(tests::difference(pictureAt(0.0), source) > 1.0, id);
            QVERIFY2(tests::difference(pictureAt(1.0), source) < 0.01, id);
            click(box(id));
            QVERIFY(!rehearsal.played());
            QVERIFY2(tests::difference(pictureAt(0.0), source) < 0.5, id);
        }
        // Both kinds at once are drawn as one.
        click(box("axes-turned"));
        QTRY_VERIFY(rehearsal.together() && rehearsal.played());
        const QImage turned = pictureAt(0.0);
        click(box("srgb-removed"));
        QTRY_VERIFY(rehearsal.together() && rehearsal.chosen().size() == 2);
        QVERIFY(rehearsal.played() && !rehearsal.spoilt());
        QVERIFY(tests::difference(pictureAt(0.0), turned) > 1.0);
        click(box("axes-turned"));
        click(box("srgb-removed"));
        // It goes on moving while it is wrong.
        click(box("rotation-ignored"));
        QTRY_VERIFY(rehearsal.together() && rehearsal.played());
        const QImage early = pictureAt(0.0);
        session().playhead().setFrame(30.0);
        QVERIFY(tests::difference(pictureAt(0.0), early) > 0.5);
        session().playhead().setFrame(20.0);
        click(box("rotation-ignored"));

        // The bounds of the rest pose are drawn, and cull what moves when they are out of the picture.
        click(box("rest-bounds"));
        QTRY_VERIFY(rehearsal.together() && rehearsal.played());
        QVERIFY(!rehearsal.spoilt() && rehearsal.together()->overhang > 0.0);
        QVERIFY(words().contains("outside"));
        const double boxed = tests::difference(pictureAt(0.0), source);
        QVERIFY2(boxed > 0.001 && boxed < 1.0, qPrintable(QString::number(boxed)));
        QVERIFY(!window_->stage()->restIsCulled());
        Stage* stage = window_->stage();
        const QPoint middle = stage->rect().center();
        for (int i = 0; i < 8 && !stage->restIsCulled(); ++i) {
            QTest::mousePress(stage, Qt::MiddleButton, {}, middle);
            QTest::mouseMove(stage, middle + QPoint(middle.x() - 20, 0));
            QTest::mouseRelease(stage, Qt::MiddleButton, {}, middle + QPoint(middle.x() - 20, 0));
        }
        QVERIFY(stage->restIsCulled());
        key(Qt::Key_V, Qt::ShiftModifier); // and back
        QVERIFY(!stage->restIsCulled());
        click(box("rest-bounds"));
        // Who looks elsewhere sees what is right.
        click(box("rows-flipped"));
        QTRY_VERIFY(rehearsal.spoilt());
        window_->showBench(1);
        QVERIFY(idle());
        QVERIFY(rehearsal.chosen().empty() && !rehearsal.spoilt());
        session().look([](project::View& view) { view.curtain = 0.5; });
    }
    /// A score as code has faults of its own: colours, UVs, and who calls it.
    void faultsOfCodeAreSeen() {
        openDemo("skate.curly");
        toShip();
        choose("shipWhat", "score as code");
        window_->bench(4).showStrip(3);
        QVERIFY(idle());
        RehearsalStage& rehearsal = session().rehearsal();
        QTRY_COMPARE_WITH_TIMEOUT(rehearsal.alone().size(), bundle::faults().size(), 120000);
        QCOMPARE(rehearsal.alone().at("half-size").idle.size(), std::size_t(1)); // it has no textures
        QVERIFY(rehearsal.alone().at("axes-turned").metres > 0.01);
        // What can't happen to code is counted, and does not stand in the way.
        QVERIFY(!find<TickBox>("fault-half-size")->isVisible());
        const auto idle = std::ranges::count_if(rehearsal.alone(),
                                                [](const auto& one) { return !one.second.idle.empty(); });
        QCOMPARE(find<QLabel>("otherFaults")->text(),
                 QString("%1 faults can't happen to this bundle.").arg(idle));
        QVERIFY(find<QLabel>("otherFaults")->toolTip().contains("a score has no textures"));
        session().look([](project::View& view) { view.curtain = 0.0; });
        QVERIFY(!window_->stage()->curtainShown());
        const QImage right = picture();
        click(find<TickBox>("fault-axes-turned"));
        QTRY_VERIFY(rehearsal.together() && rehearsal.played());
        QCOMPARE(rehearsal.together()->metres, rehearsal.alone().at("axes-turned").metres);
        QVERIFY(window_->stage()->curtainShown());
        QVERIFY(tests::difference(picture(), right) > 1.0);
        // What prevents it is said in the code's own names.
        click(find<TickBox>("fault-rest-bounds"));
        bool named = false;
        for (const QLabel* label : find<QLabel>("faultsTogether")->parentWidget()->findChildren<QLabel*>()) {
            named = named || label->text().contains("skate_bounds_min");
        }
        QVERIFY(named);
        click(find<TickBox>("fault-rest-bounds"));
        // Of a bake they are others.
        choose("shipWhat", "baked textures");
        QTRY_VERIFY_WITH_TIMEOUT(rehearsal.together() && rehearsal.alone().size() == bundle::faults().size(),
                                 120000);
        QVERIFY(rehearsal.alone().at("half-size").idle.empty());
    }
    void whatCameBackIsNamed() {
        openDemo("heron.curly");
        toShip();
        window_->bench(4).showStrip(4);
        auto* page = find<ReturnedPage>();
        QVERIFY(!find<QPushButton>("chooseReturned")->isEnabled()); // nothing is written yet
        QTemporaryDir out;
        session().edit("folder", [&](project::Document& d) { d.ship.folder = out.path().toStdString(); });
        QVERIFY(idle());
        click(find<QPushButton>("write"));
        QTRY_VERIFY_WITH_TIMEOUT(session().lastCheck(), 120000);
        window_->bench(4).showStrip(4);
        QVERIFY(find<QPushButton>("chooseReturned")->isEnabled());
        page->check(session().bundleFolder());
        QTRY_VERIFY_WITH_TIMEOUT(page->report() && !page->checking(), 120000);
        QVERIFY(page->report()->ok());
        QVERIFY(find<QLabel>("returnedWords")->text().startsWith("All that came back is as it was written"));

        const std::filesystem::path own = session().bundleFolder().toStdString();
        const QString back = out.filePath("back");
        const std::vector<const bundle::Fault*> done = {&bundle::faultNamed("channels-swapped")};
        QCOMPARE(bundle::writeSpoilt(bundle::readBundle(own), own, done, back.toStdString()), std::size_t(2));
        page->check(back);
        QTRY_VERIFY_WITH_TIMEOUT(page->report() && !page->checking(), 120000);
        QStringList shown;
        for (const QLabel* label : page->findChildren<QLabel*>()) {
            shown << label->text();
        }
        QVERIFY2(shown.contains("Red and blue changed places"), qPrintable(shown.join('|')));
        QVERIFY(shown.contains("Load the channels as red, green, blue."));
        QVERIFY(find<QLabel>("returnedWords")->text().contains("back"));
        page->check(out.filePath("nowhere"));
        QTRY_VERIFY_WITH_TIMEOUT(page->report() && !page->checking(), 120000);
        QCOMPARE(page->report()->problems.size(), std::size_t(1));
    }
};

static const ripple::tests::SuiteOf<TestShipWindow> kSuite;
#include "test_ship_window.moc"
