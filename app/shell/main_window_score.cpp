// Scores in files of their own: taken onto the mesh that is open, and saved for others.

#include "app/shell/main_window.h"
#include "app/shell/score_edits.h"
#include "app/shell/words.h"
#include "motion/score_file.h"

#include <QFileDialog>
#include <QFileInfo>

namespace ripple::app {

void MainWindow::openScore(const QString& path) {
    if (!session_.openedSource()) {
        findings_->say(tr("A score moves a mesh: open one first, or take a test shape on Gather."),
                       Lamp::look);
        return;
    }
    try {
        takeScore(session_, motion::loadScore(path.toStdString()));
        showBench(benchIndex("move"));
    } catch (const base::Failure& failure) {
        findings_->say(text(failure.problem().line()), Lamp::broken);
    }
}

void MainWindow::openScoreDialog() {
    const QString near = QFileInfo(text(session_.document().source.path)).path();
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Take a score"), near, tr("Scores (*.score);;All files (*)"));
    if (!path.isEmpty()) {
        openScore(path);
    }
}

void MainWindow::saveScoreDialog() {
    const QString near = QFileInfo(text(session_.document().source.path)).path() + "/" +
                         text(session_.document().assetName()) + ".score";
    QString path = QFileDialog::getSaveFileName(this, tr("Save the score"), near, tr("Scores (*.score)"));
    if (path.isEmpty()) {
        return;
    }
    path += path.endsWith(".score") ? "" : ".score";
    try {
        motion::saveScore(session_.document().score, path.toStdString());
        findings_->say(tr("Saved: %1").arg(path), Lamp::fine);
    } catch (const base::Failure& failure) {
        findings_->say(text(failure.problem().line()), Lamp::broken);
    }
}

} // namespace ripple::app
