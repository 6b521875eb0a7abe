#include "app/benches/ship/returned_page.h"

#include "app/benches/ship/ship_words.h"
#include "app/look/panel_parts.h"
#include "base/progress.h"
#include "base/units.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>

namespace ripple::app {

namespace {

/// "max error 12 mm"; of normals where no vertex moves.
QString costOf(double metres, double degrees) {
    return metres > 0.0 || degrees <= 0.05
               ? ReturnedPage::tr("max error %1").arg(text(base::lengthText(metres)))
               : ReturnedPage::tr("normals turned by up to %1").arg(text(base::degreesText(degrees)));
}

} // namespace

ReturnedPage::ReturnedPage(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      words_(quietLabel()),
      button_(new QPushButton(tr("Choose a folder…"))),
      column_(new QVBoxLayout) {
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(4, 2, 4, 4);
    auto* head = new QHBoxLayout;
    words_->setObjectName("returnedWords");
    head->addWidget(words_, 1);
    button_->setObjectName("chooseReturned");
    button_->setToolTip(
        tr("A folder with the bundle's files as the engine or an importer wrote them again: "
           "textures as PNG or EXR, the mesh as GLB, glTF, OBJ or PLY, under their own names"));
    head->addWidget(button_);
    outer->addLayout(head);
    auto* inner = new QWidget;
    auto* innerColumn = new QVBoxLayout(inner);
    innerColumn->setContentsMargins(0, 0, 10, 0);
    column_->setSpacing(5);
    innerColumn->addLayout(column_);
    innerColumn->addStretch(1);
    outer->addWidget(scrolled(inner), 1);
    connect(button_, &QPushButton::clicked, this, [this] {
        if (job_.running()) {
            job_.cancel();
            return;
        }
        const QString folder = QFileDialog::getExistingDirectory(this, tr("Files as they came back"),
                                                                 QFileInfo(session_.bundleFolder()).path());
        if (!folder.isEmpty()) {
            check(folder);
        }
    });
    connect(&job_, &LatestJob::runningChanged, this, [this] { refresh(); });
    const auto forget = [this] { // of another bundle
        job_.cancel();
        report_.reset();
        problem_.reset();
        refresh();
    };
    connect(&session_, &Session::bundleWritten, this, forget);
    connect(&session_, &Session::sourceLoaded, this, forget);
    refresh();
}

void ReturnedPage::check(const QString& folder) {
    folder_ = folder;
    report_.reset();
    problem_.reset();
    using Result = std::shared_ptr<const bundle::ReturnedReport>;
    job_.start<Result>(
        [bundle = pathBytes(session_.bundleFolder()),
         returned = pathBytes(folder)](base::Progress& progress) {
            return std::make_shared<const bundle::ReturnedReport>(
                bundle::checkReturned(bundle, returned, progress));
        },
        [this](Result report) {
            report_ = std::move(report);
            refresh();
        },
        [this](base::Problem problem) {
            problem_ = std::move(problem);
            refresh();
        });
}

void ReturnedPage::addFile(const bundle::ReturnedFile& file) {
    if (file.changes.empty()) {
        column_->addWidget(factRow(text(file.file), tr("as it was written"), "glass"));
        return;
    }
    column_->addWidget(factRow(text(file.file), costOf(file.metres, file.degrees),
                               file.metres > session_.tolerance() ? "brass" : "quiet"));
    for (const bundle::Change& change : file.changes) {
        QString what = begun(change.what);
        if (change.metres && file.changes.size() > 1) {
            what = tr("%1: alone %2").arg(what, costOf(*change.metres, change.degrees));
        }
        column_->addWidget(new Card(what, begun(change.prevention) + ".", "broken"));
    }
}

void ReturnedPage::refresh() {
    emptyLayout(column_);
    const bool written = session_.lastCheck() != nullptr;
    button_->setEnabled(written);
    button_->setText(job_.running() ? tr("Stop") : tr("Choose a folder…"));
    if (!written) {
        words_->setText(
            tr("Write the bundle first; then files that came back from the engine can be compared "
               "with it."));
        return;
    }
    if (job_.running()) {
        words_->setText(tr("Comparing…"));
        return;
    }
    if (problem_) {
        words_->setText(text(problem_->line()));
        return;
    }
    if (!report_) {
        words_->setText(tr("Files that the engine wrote again show what its importer did to them."));
        return;
    }
    words_->setText(report_->ok()
                        ? tr("All that came back is as it was written: %1").arg(folder_)
                        : tr("What was done to the files in %1").arg(QFileInfo(folder_).fileName()));
    words_->setToolTip(plainTip(folder_));
    for (const base::Problem& problem : report_->problems) {
        column_->addWidget(
            new Card(begun(problem.what), text(problem.where + ": " + problem.fix + "."), "broken"));
    }
    for (const bundle::ReturnedFile& file : report_->files) {
        addFile(file);
    }
}

} // namespace ripple::app
