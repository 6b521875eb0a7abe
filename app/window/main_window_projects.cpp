// Opening and saving projects, what was left of them, and those that other windows have.

#include "app/window/main_window.h"
#include "app/session/words.h"

#include "app/session/score_edits.h"
#include "app/look/theme.h"
#include "base/version.h"
#include "source/open.h"

#include <QDialog>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QLocale>
#include <QMenu>
#include <QMessageBox>
#include <QSettings>

namespace ripple::app {

namespace {

constexpr int kMostRecent = 8;

QString sourceFilter() {
    QString patterns;
    for (const source::Reader& reader : source::readers()) {
        for (const QString& extension : QString::fromStdString(reader.extensions).split(' ')) {
            patterns += (patterns.isEmpty() ? "*" : " *") + extension;
        }
    }
    return QObject::tr("Deforming meshes (%1);;All files (*)").arg(patterns);
}

} // namespace

void MainWindow::openPath(const QString& path) {
    if (path.endsWith(".score", Qt::CaseInsensitive)) {
        openScore(path);
        return;
    }
    try {
        if (path.endsWith(".curly", Qt::CaseInsensitive)) {
            openProject(path);
        } else {
            session_.open(path);
        }
        remember(path);
    } catch (const base::Failure& failure) {
        findings_->say(QString::fromStdString(failure.problem().line()), Lamp::broken);
    }
}

void MainWindow::openProject(const QString& path) {
    if (!lock_.take(path)) {
        session_.openCopy(path);
        const QString name = QFileInfo(path).fileName();
        findings_->ask(tr("%1 is open in another window (%2). This is a copy of it without a file.")
                           .arg(name, ProjectLock::owner(path)),
                       {tr("Save it as…"), [this] { saveAs(); }}, {tr("Only look at it"), {}});
        return;
    }
    session_.open(path);
    // Nobody else has it, so what was left of it was left by a program that is gone.
    if (const auto left = Autosave::leftOf(path)) {
        offer(*left);
    }
}

void MainWindow::offer(const Autosave::Left& left) {
    const QString when = QLocale().toString(left.when, QLocale::ShortFormat);
    findings_->ask(left.project.isEmpty() ? tr("A project from %1 was never saved.").arg(when)
                                          : tr("Changes to this project from %1 were not saved.").arg(when),
                   {left.project.isEmpty() ? tr("Restore it") : tr("Restore the changes"),
                    [this, left] {
                        try {
                            session_.restore(left.copy, left.project);
                            autosave_.keep();
                            if (left.project.isEmpty()) {
                                QFile::remove(left.copy); // kept under this program's own name now
                            }
                        } catch (const base::Failure& failure) {
                            findings_->say(QString::fromStdString(failure.problem().line()), Lamp::broken);
                        }
                    }},
                   {left.project.isEmpty() ? tr("Discard it") : tr("Discard the changes"),
                    [left] { QFile::remove(left.copy); }});
}

void MainWindow::offerUntitled() {
    if (const auto left = Autosave::leftUntitled()) {
        offer(*left);
    }
}

/// Where a dialog begins: at `file`, else beside the project, else beside the source, else at home.
QString MainWindow::dialogFolder(const std::string& file) const {
    if (!file.empty()) {
        return pathText(file);
    }
    if (!session_.projectFile().isEmpty()) {
        return QFileInfo(session_.projectFile()).absolutePath();
    }
    const std::string& source = session_.document().source.path;
    return source.empty() ? QDir::homePath() : QFileInfo(pathText(source)).absolutePath();
}

void MainWindow::openDialog(bool project) {
    if (!mayLeave()) {
        return;
    }
    const QString path =
        QFileDialog::getOpenFileName(this, project ? tr("Open project") : tr("Open source"), dialogFolder(),
                                     project ? tr("Projects (*.curly);;All files (*)") : sourceFilter());
    if (!path.isEmpty()) {
        openPath(path);
    }
}

bool MainWindow::save() {
    if (session_.projectFile().isEmpty()) {
        return saveAs();
    }
    if (session_.changedOnDisk()) {
        findings_->ask(tr("%1 was changed by another program since it was opened here.")
                           .arg(QFileInfo(session_.projectFile()).fileName()),
                       {tr("Save as…"), [this] { saveAs(); }}, {tr("Save over it"), [this] { saveNow(); }});
        return false;
    }
    return saveNow();
}

bool MainWindow::saveNow() {
    try {
        session_.save();
        findings_->say(tr("Saved: %1").arg(session_.projectFile()), Lamp::fine);
        return true;
    } catch (const base::Failure& failure) {
        findings_->say(QString::fromStdString(failure.problem().line()), Lamp::broken);
        return false;
    }
}

bool MainWindow::saveAs() {
    const QString near =
        dialogFolder() + "/" + QString::fromStdString(session_.document().assetName()) + ".curly";
    QString path = QFileDialog::getSaveFileName(this, tr("Save project"), near, tr("Projects (*.curly)"));
    if (path.isEmpty()) {
        return false;
    }
    if (!path.endsWith(".curly")) {
        path += ".curly";
    }
    if (!lock_.take(path)) {
        findings_->say(tr("%1 is open in another window (%2). Choose another name.")
                           .arg(QFileInfo(path).fileName(), ProjectLock::owner(path)),
                       Lamp::broken);
        return false;
    }
    try {
        session_.saveAs(path);
        remember(path);
        return true;
    } catch (const base::Failure& failure) {
        lock_.take(session_.projectFile()); // the old name is still the project's
        findings_->say(QString::fromStdString(failure.problem().line()), Lamp::broken);
        return false;
    }
}

QStringList MainWindow::recent() const {
    QStringList there;
    for (const QString& path : QSettings().value("recent").toStringList()) {
        // A pattern names no file of its own; what it stands for is looked for when it is opened.
        if (path.contains('#') || QFileInfo::exists(path)) {
            there << path;
        }
    }
    return there;
}

void MainWindow::remember(const QString& path) {
    QStringList paths = recent();
    const QString whole = QFileInfo(path).absoluteFilePath();
    paths.removeAll(whole);
    paths.prepend(whole);
    QSettings().setValue("recent", QStringList(paths.mid(0, kMostRecent)));
}

void MainWindow::showRecent() {
    QMenu menu(this);
    for (const QString& path : recent()) {
        menu.addAction(QFileInfo(path).fileName() + "   " + QFileInfo(path).path(), this, [this, path] {
            if (mayLeave()) {
                openPath(path);
            }
        });
    }
    menu.exec(mapToGlobal(QPoint(16, 34)));
}

bool MainWindow::mayLeave() {
    if (session_.undoStack().isClean()) {
        return true;
    }
    QMessageBox box(QMessageBox::Question, tr("Curly Ripple"),
                    tr("“%1” has changes that are not saved.")
                        .arg(QString::fromStdString(session_.document().assetName())),
                    QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, this);
    switch (box.exec()) {
    case QMessageBox::Save:
        return save();
    case QMessageBox::Discard:
        return true;
    default:
        return false;
    }
}

} // namespace ripple::app
