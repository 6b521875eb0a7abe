// What a person can ask the window for: the table of actions, and the dialogs behind them.

#include "app/window/main_window.h"

#include "app/stage/looks.h"
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

std::vector<ActionRow> MainWindow::actionRows() {
    const auto hasSource = [this] { return session_.source() != nullptr; };
    const auto hasTime = [this] { return session_.playhead().clip() != nullptr; };
    Playhead& playhead = session_.playhead();
    std::vector<ActionRow> rows = {
        {"new", tr("Project"), tr("New project"), "Ctrl+N",
         [this] {
             if (mayLeave()) {
                 session_.newProject();
             }
         }},
        {"open-project", tr("Project"), tr("Open project…"), "Ctrl+O", [this] { openDialog(true); }},
        {"open-source", tr("Project"), tr("Open source…"), "Ctrl+Shift+O", [this] { openDialog(false); }},
        {"recent", tr("Project"), tr("Recent…"), "Ctrl+R", [this] { showRecent(); },
         [this] { return !recent().isEmpty(); }},
        {"open-score", tr("Project"), tr("Open a score…"), "", [this] { openScoreDialog(); },
         [this] { return session_.openedSource() != nullptr; }},
        {"save-score", tr("Project"), tr("Save the score as…"), "", [this] { saveScoreDialog(); },
         [this] { return !session_.document().score.voices.empty(); }},
        {"save", tr("Project"), tr("Save"), "Ctrl+S", [this] { save(); }, {}, {}, true},
        {"save-as", tr("Project"), tr("Save as…"), "Ctrl+Shift+S", [this] { saveAs(); }},
        {"choose-folder",
         tr("Project"),
         tr("Choose the bundle's folder…"),
         "",
         [this] { chooseFolder(); },
         hasSource,
         {},
         true},
        {"write-bundle", tr("Project"), tr("Write the bundle"), "Ctrl+B", [this] { writeBundle(); },
         [this] { return session_.bake() != nullptr; }},
        {"quit", tr("Project"), tr("Quit"), "Ctrl+Q", [this] { close(); }, {}, {}, true},
        {"undo", tr("Edit"), tr("Undo"), "Ctrl+Z", [this] { session_.undoStack().undo(); },
         [this] { return session_.undoStack().canUndo(); }},
        {"redo", tr("Edit"), tr("Redo"), "Ctrl+Shift+Z", [this] { session_.undoStack().redo(); },
         [this] { return session_.undoStack().canRedo(); }},
        {"cancel",
         tr("Edit"),
         tr("Cancel running work"),
         "Esc",
         [this] {
             session_.bakeJob().cancel();
             session_.surveyJob().cancel();
             session_.sourceJob().cancel();
             session_.shipJob().cancel();
             session_.scatterJob().cancel();
         },
         [this] {
             return session_.bakeJob().running() || session_.sourceJob().running() ||
                    session_.surveyJob().running() || session_.shipJob().running() ||
                    session_.scatterJob().running();
         },
         {},
         true},
        {"reload-source", tr("Edit"), tr("Read the source again"), "F5", [this] { session_.reloadSource(); },
         [this] { return session_.source() && !session_.document().source.shape; }},
        {"bake-again", tr("Edit"), tr("Bake again"), "Ctrl+Shift+B", [this] { session_.rebake(); },
         hasSource},
    };
    for (const LookRow& look : looks()) {
        rows.push_back({QString("look-") + look.id,
                        tr("Look"),
                        lookWords(look.text),
                        look.key,
                        [this, id = std::string(look.id)] { setLook(id); },
                        {},
                        [this, id = std::string(look.id)] { return session_.document().view.look == id; }});
    }
    for (std::size_t b = 0; b < kBenches.size(); ++b) {
        rows.push_back(
            {QString("bench-") + kBenches[b].id,
             tr("Look"),
             tr("%1 bench").arg(benchName(b)),
             QString::number(b + 1),
             [this, b] { showBench(static_cast<int>(b)); },
             {},
             [this, b] { return benchIndex(session_.document().view.bench) == static_cast<int>(b); },
             b == 0});
    }
    const auto onVoice = [this] {
        return benchOf(session_.document().view).voices && chosenVoice(session_) != nullptr;
    };
    const std::vector<ActionRow> more = {
        {"view-whole",
         tr("Look"),
         tr("Fit the model in view"),
         "V",
         [this] {
             if (stage_) {
                 stage_->frameModel(true);
             }
         },
         hasSource,
         {},
         true},
        {"view-reset", tr("Look"), tr("View from the front corner"), "Shift+V",
         [this] {
             if (stage_) {
                 stage_->frameModel(false);
             }
         },
         hasSource},
        {"curtain-middle", tr("Look"), tr("Centre the curtain"), "C",
         [this] { session_.look([](project::View& v) { v.curtain = 0.5; }); }},
        {"compare", tr("Look"), tr("Compare with this frame"), "M",
         [this] {
             session_.compareWith(session_.compared() ? std::nullopt : std::optional(session_.clipFrame()));
         },
         [this] {
             return session_.source() && benchOf(session_.document().view).curtain == Curtain::compared;
         },
         [this] { return session_.compared().has_value(); }},
        {"day",
         tr("Look"),
         tr("Day theme"),
         "",
         [this] { setDayTheme(themeKind() == ThemeKind::dusk); },
         {},
         [] { return themeKind() == ThemeKind::day; },
         true},
        {"play", tr("Time"), tr("Play or pause"), "Space", [&playhead] { playhead.toggle(); }, hasTime},
        {"next-frame", tr("Time"), tr("Next frame"), "Right", [&playhead] { playhead.step(1); }, hasTime},
        {"previous-frame", tr("Time"), tr("Previous frame"), "Left", [&playhead] { playhead.step(-1); },
         hasTime},
        {"first-frame", tr("Time"), tr("First frame"), "Home",
         [&playhead] {
             playhead.setPlaying(false);
             playhead.setFrame(0.0);
         },
         hasTime},
        {"next-clip", tr("Time"), tr("Next clip"), "K",
         [&playhead] {
             const int count = static_cast<int>(playhead.clips().size());
             playhead.setClipIndex((playhead.clipIndex() + 1) % std::max(count, 1));
         },
         [&playhead] { return playhead.clips().size() > 1; }},
        {"voice-flip",
         tr("Edit"),
         tr("Flip the mask of the voice"),
         "F",
         [this] { flipMask(session_); },
         onVoice,
         {},
         true},
        {"voice-axis", tr("Edit"), tr("Run the voice along the next axis"), "A",
         [this] { nextCourseAxis(session_); }, onVoice},
        {"voice-push-axis", tr("Edit"), tr("Push the voice along the next axis"), "Shift+A",
         [this] { nextPushAxis(session_); }, onVoice},
        {"voice-solo", tr("Edit"), tr("Solo the voice"), "Q", [this] { toggleSolo(session_); }, onVoice},
        {"voice-mute", tr("Edit"), tr("Mute the voice"), "Shift+Q", [this] { toggleMute(session_); },
         onVoice},
        {"voice-next", tr("Edit"), tr("Next voice"), "G", [this] { nextVoice(session_); }, onVoice},
        {"voice-duplicate", tr("Edit"), tr("Duplicate the voice"), "Ctrl+D",
         [this] { duplicateVoice(session_, chosenVoice(session_)->id); }, onVoice},
        {"voice-remove", tr("Edit"), tr("Remove the voice"), "Delete",
         [this] { removeVoice(session_, chosenVoice(session_)->id); }, onVoice},
        {"shortcuts", tr("Help"), tr("Keyboard shortcuts"), "F1", [this] { showShortcuts(); }},
        {"about", tr("Help"), tr("About Curly Ripple"), "", [this] { showAbout(); }},
    };
    rows.insert(rows.end(), more.begin(), more.end());
    return rows;
}

void MainWindow::chooseFolder() {
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Choose the bundle's folder"),
                                                             dialogFolder(session_.document().ship.folder));
    if (!folder.isEmpty()) {
        session_.edit(tr("Choose the bundle's folder"),
                      [&](project::Document& d) { d.ship.folder = folder.toStdString(); });
    }
}

void MainWindow::writeBundle() {
    if (session_.document().ship.folder.empty()) {
        chooseFolder();
    }
    if (!session_.document().ship.folder.empty()) {
        session_.writeBundle();
    }
}

void MainWindow::showShortcuts() {
    QDialog dialog(this);
    dialog.setWindowTitle(tr("Keyboard shortcuts"));
    auto* grid = new QGridLayout(&dialog);
    grid->setContentsMargins(22, 18, 22, 18);
    grid->setHorizontalSpacing(26);
    int row = 0;
    int column = 0;
    QString menu;
    constexpr int kColumns = 3; // as high as the smallest window
    const int most = static_cast<int>(actions_.rows().size()) / kColumns + 2;
    for (const ActionRow& action : actions_.rows()) {
        if (action.shortcut.isEmpty()) {
            continue;
        }
        if (row > most) {
            row = 0;
            column += 2;
        }
        if (action.menu != menu) {
            menu = action.menu;
            auto* head = new QLabel(menu);
            head->setProperty("role", "section");
            grid->addWidget(head, row++, column, 1, 2);
        }
        auto* key = new QLabel(QKeySequence(action.shortcut).toString(QKeySequence::NativeText));
        key->setFont(codeFont(12));
        grid->addWidget(new QLabel(action.text), row, column);
        grid->addWidget(key, row++, column + 1);
    }
    dialog.exec();
}

void MainWindow::showAbout() {
    QMessageBox::about(
        this, tr("About Curly Ripple"),
        tr("<b>%1</b><br>Bakes mesh deformation into vertex animation textures, and moves meshes by "
           "scores that loop.<br>GPL-3.0-or-later.")
            .arg(base::generatorName()));
}

} // namespace ripple::app
