// Keys wherever the focus is, and projects that two windows, other programs or a full folder are at.

#include "app/session/bench_state.h"
#include "app/look/field_keys.h"
#include "app/window/main_window.h"
#include "app/look/number_field.h"
#include "app/window/pictures.h"
#include "app/window/project_lock.h"
#include "app/look/theme.h"
#include "base/files.h"
#include "own_places.h"
#include "real_window.h"
#include "suite.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QLineEdit>
#include <QProcess>
#include <QPushButton>
#include <QTemporaryDir>
#include <QTimer>

#include <memory>

using namespace ripple;
using namespace ripple::app;
using tests::pressKey;

class TestProjectsWindow : public QObject {
    Q_OBJECT

    std::unique_ptr<QTemporaryDir> dir_;
    std::unique_ptr<MainWindow> window_;

    Session& session() { return window_->session(); }
    void activate(MainWindow& window) {
        QVERIFY(QTest::qWaitForWindowExposed(&window));
        QApplication::setActiveWindow(&window);
    }
    /// A small project in this test's folder.
    QString project(const char* name) const {
        project::Document document;
        document.source.shape = mesh::TestShape{"sheet", 1.0, 8, 8};
        const QString file = dir_->filePath(name);
        project::saveDocument(document, file.toStdString());
        return file;
    }
    void open(MainWindow& window, const QString& file) {
        window.openPath(file);
        QVERIFY(waitUntilIdle(window));
    }
    std::size_t step() { return session().document().recipe.step; }
    NumberField* stepField() {
        window_->showBench(1);
        QTest::qWait(10);
        for (NumberField* field : window_->findChildren<NumberField*>("step")) {
            if (field->isVisible()) {
                return field;
            }
        }
        return nullptr;
    }
    QPushButton* button(MainWindow& window, const char* name) { return window.findChild<QPushButton*>(name); }

private Q_SLOTS:
    void initTestCase() {
        tests::keepPlacesApart();
        applyTheme(*qApp, ThemeKind::dusk);
    }
    void init() {
        dir_ = std::make_unique<QTemporaryDir>();
        window_ = tests::shownWindow();
        activate(*window_);
    }
    void cleanup() {
        session().undoStack().setClean();
        window_->autosave().drop();
        window_.reset();
    }

    void undoWorksAfterANumberWasTyped() {
        open(*window_, tests::ownDemo("crab.curly"));
        const std::size_t before = step();
        NumberField* field = stepField();
        QVERIFY(field);
        QTest::mouseClick(field, Qt::LeftButton);
        QCOMPARE(QApplication::focusWidget(), static_cast<QWidget*>(field));
        QTest::keyClicks(field, "3");
        // While it is typed, undo is the text's own.
        QVERIFY(field->isModified());
        QTest::keyClick(field, Qt::Key_Return);
        QCOMPARE(step(), std::size_t(3));
        QCOMPARE(QApplication::focusWidget(), static_cast<QWidget*>(field)); // for who goes on with Tab
        pressKey(*window_, Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(step(), before);
        QVERIFY(waitUntilIdle(*window_));
        pressKey(*window_, Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(step(), std::size_t(3));
        QVERIFY(waitUntilIdle(*window_));
        // So do the keys of the sheet: playing, looks, the next clip.
        pressKey(*window_, Qt::Key_Space);
        QVERIFY(session().playhead().playing());
        pressKey(*window_, Qt::Key_Space);
        QVERIFY(!session().playhead().playing());
        const int clip = session().playhead().clipIndex();
        pressKey(*window_, Qt::Key_K);
        QVERIFY(session().playhead().clipIndex() != clip);
        QCOMPARE(step(), std::size_t(3));
        // Digits are the field's.
        QTest::keyClick(field, Qt::Key_4);
        QVERIFY(field->isModified());
        QTest::keyClick(field, Qt::Key_Escape);
        QCOMPARE(step(), std::size_t(3));
    }
    void escapeRevertsWhatIsTypedEvenWhileAJobRuns() {
        open(*window_, tests::ownDemo("crab.curly"));
        NumberField* field = stepField();
        QTest::mouseClick(field, Qt::LeftButton);
        session().rebake();
        QVERIFY(session().bakeJob().running());
        QTest::keyClicks(field, "7");
        QTest::keyClick(field, Qt::Key_Escape);
        QVERIFY(field->text() != "7");
        QVERIFY(session().bakeJob().running() || session().bake()); // it was not cancelled
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(session().bake());
        QCOMPARE(step(), std::size_t(1));
        // With nothing typed it cancels what runs, wherever the focus is.
        QTest::mouseClick(field, Qt::LeftButton);
        session().rebake();
        QVERIFY(session().bakeJob().running());
        QTest::keyClick(field, Qt::Key_Escape);
        QVERIFY(!session().bakeJob().running());
    }
    void escapeGivesANameBack() {
        open(*window_, project("name.curly"));
        window_->showBench(4);
        QTest::qWait(10);
        auto* name = window_->findChild<QLineEdit*>("bundleName");
        QVERIFY(name && name->isVisible());
        const QString before = name->text();
        name->setFocus();
        QTest::keyClicks(name, "other");
        QTest::keyClick(name, Qt::Key_Escape);
        QCOMPARE(name->text(), before);
        QVERIFY(session().document().ship.name.empty());
        QVERIFY(QApplication::focusWidget() != name);
    }
    void aProjectThatIsOpenIsOnlyCopiedByAnotherWindow() {
        const QString file = project("shared.curly");
        open(*window_, file);
        session().edit("step", [](project::Document& d) { d.recipe.step = 5; });
        window_->autosave().keep();
        const QString copy = dir_->filePath(".shared.curly.unsaved");
        QVERIFY(QFile::exists(copy));
        const auto second = tests::shownWindow();
        open(*second, file);
        // It is told who has it, is offered nothing of the first one's, and has a project without a file.
        QVERIFY2(second->findingsLine()->words().contains("shared.curly is open in another window"),
                 qPrintable(second->findingsLine()->words()));
        QVERIFY(
            second->findingsLine()->words().contains(QString::number(QCoreApplication::applicationPid())));
        QCOMPARE(second->session().projectFile(), QString());
        QCOMPARE(second->session().document().recipe.step, std::size_t(1));
        QTest::mouseClick(button(*second, "findingOther"), Qt::LeftButton); // only look at it
        second->session().edit("another", [](project::Document& d) { d.recipe.step = 9; });
        second->autosave().keep();
        second->session().undoStack().setClean(); // which drops the second one's copy, and not the first's
        QVERIFY(QFile::exists(copy));
        QCOMPARE(project::loadDocument(copy.toStdString()).recipe.step, std::size_t(5));
        // Once the first has gone on to something else, the next may have it.
        session().undoStack().setClean();
        window_->autosave().drop();
        session().newProject();
        const auto third = tests::shownWindow();
        open(*third, file);
        QCOMPARE(third->session().projectFile(), QFileInfo(file).absoluteFilePath());
        third->autosave().drop();
    }
    void locksOfProgramsThatAreGoneDoNotCount() {
        const QString file = project("left.curly");
        QProcess gone;
        gone.start("/bin/true");
        gone.waitForFinished();
        QFile lock(dir_->filePath(".left.curly.open"));
        QVERIFY(lock.open(QIODevice::WriteOnly));
        lock.write("4194303\ncurly-ripple\n" + QSysInfo::machineHostName().toLocal8Bit() + "\n");
        lock.close();
        project::Document unsaved = project::loadDocument(file.toStdString());
        unsaved.recipe.step = 4;
        project::saveDocument(unsaved, dir_->filePath(".left.curly.unsaved").toStdString());
        open(*window_, file);
        QCOMPARE(session().projectFile(), QFileInfo(file).absoluteFilePath());
        QVERIFY(window_->findingsLine()->asking()); // what it left is offered
        QTest::mouseClick(button(*window_, "findingFix"), Qt::LeftButton);
        QVERIFY(waitUntilIdle(*window_));
        QCOMPARE(step(), std::size_t(4));
    }
    void whatAnotherProgramSavedIsNotOverwrittenUnasked() {
        const QString file = project("touched.curly");
        open(*window_, file);
        session().edit("step", [](project::Document& d) { d.recipe.step = 6; });
        project::Document other = project::loadDocument(file.toStdString());
        other.recipe.step = 8;
        project::saveDocument(other, file.toStdString());
        const auto saved = [&] { return project::loadDocument(file.toStdString()).recipe.step; };
        pressKey(*window_, Qt::Key_S, Qt::ControlModifier);
        QCOMPARE(saved(), std::size_t(8));
        QVERIFY(window_->findingsLine()->words().contains("was changed by another program"));
        QTest::mouseClick(button(*window_, "findingOther"), Qt::LeftButton); // save over it
        QCOMPARE(saved(), std::size_t(6));
        // Asked once: what is there now is ours.
        session().edit("step", [](project::Document& d) { d.recipe.step = 7; });
        pressKey(*window_, Qt::Key_S, Qt::ControlModifier);
        QCOMPARE(saved(), std::size_t(7));
        QVERIFY(session().undoStack().isClean());
    }
    void unsavedChangesOfAFolderThatMayNotBeWrittenToAreKeptElsewhere() {
        // Even the superuser can't write there.
        project::Document document;
        document.source.shape = mesh::TestShape{"sheet", 1.0, 8, 8};
        const QString file = project("elsewhere.curly");
        open(*window_, file);
        session().edit("step", [](project::Document& d) { d.recipe.step = 3; });
        const QString copy = dir_->filePath(".elsewhere.curly.unsaved");
        QVERIFY(QDir().mkpath(copy)); // a folder is in the way of the copy
        QFile in(copy + "/file");
        QVERIFY(in.open(QIODevice::WriteOnly));
        window_->autosave().keep();
        QVERIFY2(window_->findingsLine()->words().contains("Unsaved changes are kept in"),
                 qPrintable(window_->findingsLine()->words()));
        const QString kept = standIn(QFileInfo(file).absoluteFilePath(), ".unsaved");
        QVERIFY(QFile::exists(kept));
        QCOMPARE(project::loadDocument(kept.toStdString()).recipe.step, std::size_t(3));
        const auto left = Autosave::leftOf(file);
        QVERIFY(left);
        window_->autosave().drop();
        QVERIFY(!QFile::exists(kept));
    }
    void writtenAndCheckedHoldsOnlyForWhatWasWritten() {
        open(*window_, project("ship.curly"));
        session().edit("folder", [&](project::Document& d) { d.ship.folder = dir_->path().toStdString(); });
        QVERIFY(waitUntilIdle(*window_));
        const auto shipLine = [this] { return benchStates(session())[4].line; };
        session().writeBundle();
        session().edit("meanwhile", [](project::Document& d) { d.recipe.maxWidth = 512; });
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(!session().lastCheck());
        QCOMPARE(shipLine(), QString("written,\nthen changed"));
        session().writeBundle();
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(session().lastCheck() && session().lastCheck()->ok());
        QCOMPARE(shipLine(), QString("written,\nchecked"));
        session().edit("after", [](project::Document& d) { d.recipe.maxWidth = 256; });
        QCOMPARE(shipLine(), QString("written,\nthen changed"));
        QVERIFY(waitUntilIdle(*window_));
        // Nothing of it is left in a new project.
        session().undoStack().setClean();
        session().newProject();
        QTest::qWait(400); // the list is made a moment after a change
        QVERIFY(!session().ship() && !session().changedSinceWritten());
        QCOMPARE(shipLine(), QString("nothing\nwritten"));
    }
    void quittingWaitsForNoCheck() {
        open(*window_, tests::ownDemo("crab.curly"));
        session().edit("folder", [&](project::Document& d) { d.ship.folder = dir_->path().toStdString(); });
        QVERIFY(waitUntilIdle(*window_));
        session().writeBundle();
        QTRY_VERIFY_WITH_TIMEOUT(QFile::exists(dir_->filePath("crab/crab.bundle.json")), 60000);
        pressKey(*window_, Qt::Key_Escape); // the check runs, and is cancelled like anything
        QVERIFY(!session().shipJob().running());
    }
    void whatCannotBeDecodedHereIsSaidSo() {
        open(*window_, tests::ownDemo("crab.curly"));
        window_->showBench(1);
        QVERIFY(waitUntilIdle(*window_));
        Stage& stage = *window_->stage();
        QVERIFY(stage.curtainShown() && stage.bakeProblem().isEmpty());
        stage.setLargestTexture(64);
        session().edit("store", [](project::Document& d) { d.recipe.positionStore = "float32"; });
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(session().bake()); // the bake itself is as good as before
        // The source is what is seen, and nothing says that it were decoded.
        QVERIFY(!stage.curtainShown());
        QVERIFY2(stage.bakeProblem().contains("larger than the 64"), qPrintable(stage.bakeProblem()));
        stage.setLargestTexture(0);
        session().edit("back", [](project::Document& d) { d.recipe.positionStore = "half"; });
        QVERIFY(waitUntilIdle(*window_));
        QVERIFY(stage.curtainShown() && stage.bakeProblem().isEmpty());
    }
    void dialogsBeginBesideTheProject() {
        QTemporaryDir elsewhere;
        const QString project = elsewhere.filePath("far.curly");
        open(*window_, tests::ownDemo("crates.curly"));
        session().saveAs(project);
        const auto folderOf = [&](const char* action) {
            QString folder;
            QTimer::singleShot(200, this, [&folder] {
                for (QWidget* widget : QApplication::topLevelWidgets()) {
                    if (auto* dialog = qobject_cast<QFileDialog*>(widget); dialog && dialog->isVisible()) {
                        folder = dialog->directory().absolutePath();
                        QTest::keyClick(dialog, Qt::Key_Escape);
                    }
                }
            });
            window_->actions().trigger(action);
            return folder;
        };
        const QString own = QFileInfo(project).absolutePath();
        for (const char* action : {"open-project", "open-source", "save-as", "open-score"}) {
            QCOMPARE(folderOf(action), own);
        }
        session().undoStack().setClean();
    }
    void aTestShapeThatAScoreMovesIsNotSaidToBeStill() {
        open(*window_, tests::ownDemo("swell.curly"));
        QVERIFY(session().performance());
        for (const OpenFinding& finding : openFindings(session())) {
            QVERIFY2(!finding.title.contains("nothing moves", Qt::CaseInsensitive) &&
                         !finding.title.contains("no animation"),
                     qPrintable(finding.title));
        }
    }
};

static const ripple::tests::SuiteOf<TestProjectsWindow> kSuite;
#include "test_projects_window.moc"
