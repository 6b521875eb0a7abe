// Scores in files of their own: taken onto the mesh that is open, and saved for others.

#include "app/window/main_window.h"
#include "app/session/score_edits.h"
#include "app/session/words.h"
#include "motion/score_file.h"

#include <QFileDialog>
#include <QFileInfo>

namespace ripple::app {

void MainWindow::openScore(const QString& path) {
    if (!session_.openedSource()) {
        findings_->say(tr("A score moves a mesh: open a mesh or a test shape on the Gather bench first."),
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
    const QString path = QFileDialog::getOpenFileName(this, tr("Open a score"), dialogFolder(),
                                                      tr("Scores (*.score);;All files (*)"));
    if (!path.isEmpty()) {
        openScore(path);
    }
}

void MainWindow::saveScoreDialog() {
    const QString near = dialogFolder() + "/" + text(session_.document().assetName()) + ".score";
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
