// Whom a bundle is written for, chosen in the real window by mouse and keys.

#include "app/benches/ship/target_dialog.h"
#include "app/charts/axes_drawing.h"
#include "base/files.h"
#include "bundle/check.h"
#include "bundle/read_bundle.h"
#include "bundle/target.h"
#include "move_window.h"
#include "suite.h"

#include <QComboBox>
#include <QDesktopServices>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QTemporaryDir>
#include <QTimer>
#include <QUrl>

using namespace ripple;
using namespace ripple::app;

class TestTargetWindow : public tests::MoveWindow {
    Q_OBJECT

    QUrl opened_;

    void toShip() {
        openDemo("skate.curly");
        window_->showBench(4);
        QVERIFY(idle());
    }
    /// Opens the dialog by its button, and does `use` while it is there.
    void inDialog(const std::function<void(TargetDialog&)>& use) {
        bool there = false;
        QTimer::singleShot(50, this, [&] {
            auto* dialog = qobject_cast<TargetDialog*>(QApplication::activeModalWidget());
            there = dialog != nullptr;
            if (dialog) {
                use(*dialog);
                if (dialog->isVisible()) {
                    dialog->reject();
                }
            }
        });
        QTest::mouseClick(find<QPushButton>("changeTarget"), Qt::LeftButton);
        QVERIFY(there);
        QVERIFY(idle());
    }
    static void use(TargetDialog& dialog) {
        QTest::mouseClick(dialog.findChild<QPushButton*>("useTarget"), Qt::LeftButton);
    }
    QString code() { return find<QPlainTextEdit>("code")->toPlainText(); }

private Q_SLOTS:
    void pageOpened(const QUrl& url) { opened_ = url; }

    void aReadyTargetIsChosen() {
        toShip();
        QCOMPARE(find<QLabel>("targetTitle")->text(), QString("Y up, right-handed, metres"));
        const project::Document before = session().document();
        const QString metres = code();
        inDialog([](TargetDialog& dialog) {
            auto* list = dialog.findChild<QListWidget*>("targets");
            QCOMPARE(list->count(), static_cast<int>(bundle::readyTargets().size()));
            list->setFocus();
            QTest::keyClick(list, Qt::Key_End);
            QCOMPARE(dialog.findChild<QLabel*>("targetWords")->text(),
                     QString("Z up, left-handed, centimetres"));
            use(dialog);
        });
        QVERIFY(session().document().ship.target == bundle::readyTargets().back());
        QVERIFY(session().document().targets.empty()); // ready ones are nobody's own
        QCOMPARE(find<QLabel>("targetTitle")->text(), QString("Z up, left-handed, centimetres"));
        QVERIFY(code() != metres); // its numbers are centimetres now
        undoesAndRedoes(before);
    }

    void axesAreDrawnAsTheyLie() {
        toShip();
        auto* drawing = find<AxesDrawing>("axesDrawing");
        const QPointF up = drawing->wayOf(1);
        QVERIFY(up.y() < 0.0 && up.x() == 0.0);
        const QPointF z = drawing->wayOf(2);
        session().edit("target", [](project::Document& d) {
            d.ship.target.axes = *mesh::axesByLetters({"+X", "-Z", "+Y"}); // Z up
        });
        QVERIFY(idle());
        QCOMPARE(drawing->wayOf(2), up);
        QCOMPARE(drawing->wayOf(1), -z);
        QCOMPARE(drawing->accessibleDescription(), QString("Z up, right-handed, metres"));
    }

    void anOwnTargetIsMadeOfTheProbe() {
        toShip();
        QTemporaryDir folder;
        const project::Document before = session().document();
        inDialog([&](TargetDialog& dialog) {
            QVERIFY(dialog.writeProbe(folder.path()));
            QVERIFY(bundle::check(folder.path().toStdString() + "/axis-probe", nullptr).ok());
            // A person saw: X along +Y, Y along +Z, Z along +X; one metre is 100 units.
            const auto point = [&](const char* name, Qt::Key key, int times) {
                auto* arrow = dialog.findChild<QComboBox*>(name);
                arrow->setFocus();
                for (int i = 0; i < times; ++i) {
                    QTest::keyClick(arrow, key);
                }
            };
            point("arrowX", Qt::Key_Down, 2); // +X -X +Y; what lay along Y lies along X now
            QCOMPARE(dialog.findChild<QComboBox*>("arrowX")->currentText(), QString("+Y"));
            point("arrowY", Qt::Key_End, 1);
            point("arrowY", Qt::Key_Up, 1);
            QCOMPARE(dialog.findChild<QComboBox*>("arrowY")->currentText(), QString("+Z"));
            auto* z = dialog.findChild<QComboBox*>("arrowZ");
            if (z->currentText() == "-X") {
                point("arrowZ", Qt::Key_Up, 1);
            }
            QCOMPARE(z->currentText(), QString("+X"));
            auto* length = dialog.findChild<NumberField*>("metreLength");
            length->setFocus();
            length->selectAll();
            QTest::keyClicks(length, "100");
            QTest::keyClick(length, Qt::Key_Return);
            auto* name = dialog.findChild<QLineEdit*>("targetName");
            name->setFocus();
            QTest::keyClicks(name, "our own");
            QTest::mouseClick(dialog.findChild<TickBox*>("vFromBelow"), Qt::LeftButton);
            QVERIFY(dialog.saveFile(folder.path() + "/own.target.json"));
            use(dialog);
        });
        const bundle::Target& target = session().document().ship.target;
        QCOMPARE(bundle::titleOf(target), std::string("our own"));
        QCOMPARE(bundle::words(target), std::string("Z up, right-handed, centimetres, V from below"));
        QVERIFY(target.axes == bundle::targetByArrows({"+Y", "+Z", "+X"}, 100.0).axes);
        QCOMPARE(session().document().targets.size(), std::size_t(1));
        QVERIFY(bundle::loadTarget(folder.path().toStdString() + "/own.target.json") == target);
        QVERIFY(code().contains("v_from_below = true"));
        undoesAndRedoes(before);
        // It is offered from now on, and the project keeps it.
        inDialog([](TargetDialog& dialog) {
            QCOMPARE(dialog.findChild<QListWidget*>("targets")->count(),
                     static_cast<int>(bundle::readyTargets().size()) + 1);
        });
        const std::string text = project::documentText(session().document(), folder.path().toStdString());
        QVERIFY(project::parseDocument(text, folder.path().toStdString(), "it").targets[0] == target);
    }

    void aFileIsOpenedAndABadOneSaid() {
        toShip();
        QTemporaryDir folder;
        const QString file = folder.path() + "/bad.target.json";
        base::writeFile(file.toStdString(), std::string("{}"));
        inDialog([&](TargetDialog& dialog) {
            QVERIFY(!dialog.openFile(file));
            QVERIFY(dialog.findChild<QLabel*>("targetSaid")->text().contains("no target"));
            bundle::Target good = bundle::readyTargets()[1];
            good.maxWidth = 4096;
            bundle::saveTarget(good, file.toStdString());
            QVERIFY(dialog.openFile(file));
            QVERIFY(dialog.target() == good);
        });
        QVERIFY(session().document().ship.target == bundle::Target{}); // nobody pressed the button
    }

    void whatIsWrittenIsForTheTarget() {
        toShip();
        QTemporaryDir folder;
        session().edit("target", [&](project::Document& d) {
            d.ship.target = bundle::readyTargets()[1];
            d.ship.target.languages = {"hlsl"};
            d.ship.folder = folder.path().toStdString();
        });
        QVERIFY(idle());
        QVERIFY(code().isEmpty()); // GLSL is shown, and not written
        const auto ship = session().ship();
        QVERIFY(ship);
        std::vector<std::string> names;
        for (const ShipFile& each : ship->files) {
            names.push_back(each.file);
        }
        QVERIFY(std::find(names.begin(), names.end(), "skate.html") != names.end());
        QVERIFY(std::find(names.begin(), names.end(), "skate.glsl") == names.end());
        auto* write = find<QPushButton>("write");
        click(write);
        QTRY_VERIFY_WITH_TIMEOUT(session().lastCheck(), 60000);
        QVERIFY2(session().lastCheck()->ok(),
                 session().lastCheck()->ok() ? "" : session().lastCheck()->problems[0].line().c_str());
        const bundle::Manifest manifest = bundle::readManifest(folder.path().toStdString() + "/skate");
        QVERIFY(manifest.target == session().document().ship.target);
        for (const ShipFile& each : ship->files) { // its sizes were true
            QCOMPARE(each.bytes,
                     std::filesystem::file_size(folder.path().toStdString() + "/skate/" + each.file));
        }
        // The page opens from its button.
        QDesktopServices::setUrlHandler("file", this, "pageOpened");
        click(find<QPushButton>("openPage"));
        QDesktopServices::unsetUrlHandler("file");
        QCOMPARE(opened_.toLocalFile(), folder.path() + "/skate/skate.html");
    }
};

static const ripple::tests::SuiteOf<TestTargetWindow> kSuite;
#include "test_target_window.moc"
