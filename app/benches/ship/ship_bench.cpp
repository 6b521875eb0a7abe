#include "app/benches/ship/ship_bench.h"

#include "app/benches/ship/rehearsal_page.h"
#include "app/benches/ship/returned_page.h"
#include "app/look/panel_parts.h"
#include "app/look/theme.h"
#include "app/look/when_seen.h"
#include "app/session/bench_state.h"
#include "app/session/words.h"
#include "base/units.h"
#include "bundle/import_notes.h"

#include <QDesktopServices>
#include <QDir>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QUrl>

#include <map>

namespace ripple::app {

namespace {

/// The last two parts of a path; the whole is in the tool tip.
QString nearName(const QString& path) {
    return QFileInfo(QFileInfo(path).path()).fileName() + "/" + QFileInfo(path).fileName();
}

} // namespace

ShipBench::ShipBench(Session& session, Trigger trigger)
    : session_(session),
      trigger_(std::move(trigger)),
      panel_(new PanelColumn(tr("Ship"))),
      strip_(new StripTabs),
      code_(new CodePage(session)),
      cost_(new CostPage(session)),
      check_(new QWidget),
      checkColumn_(new QVBoxLayout(check_)) {
    buildPanel();
    checkColumn_->setContentsMargins(0, 4, 0, 0);
    checkColumn_->setSpacing(3);
    auto* scroll = scrolled(check_);
    scroll->setStyleSheet("background: transparent;");
    strip_->add(tr("Code"), code_);
    strip_->add(tr("Cost"), cost_);
    strip_->add(tr("Check"), scroll);
    strip_->add(tr("Rehearsal"), new RehearsalPage(session));
    strip_->add(tr("Returned"), new ReturnedPage(session));
    auto* seen = new WhenSeen(panel_, [this] { refresh(); });
    connect(&session_, &Session::shipSized, this, [seen] { seen->ask(); });
    connect(&session_, &Session::bakeFinished, this, [seen] { seen->ask(); });
    connect(&session_, &Session::documentChanged, this, [this, seen](unsigned changes) {
        if (changes & kViewChange) { // where what is baked is looked at, so is how large its files will be
            session_.wantSizes(benchOf(session_.document().view).curtain == Curtain::decoded);
        }
        if (changes & (kShipChange | kSourceChange | kToleranceChange | kScoreChange | kViewChange)) {
            seen->ask();
        }
    });
    connect(&session_, &Session::bundleWritten, this, [this] {
        refreshCheck();
        strip_->show(2);
    });
    connect(&session_, &Session::shipFailed, this, &ShipBench::refreshCheck);
    refresh();
}

void ShipBench::buildPanel() {
    QVBoxLayout* column = panel_->column();
    target_ = new TargetPart(session_);
    column->addWidget(target_);
    column->addWidget(sectionLabel(tr("What")));
    buildChoices(column);
    name_ = new QLineEdit;
    name_->setObjectName("bundleName");
    name_->setAlignment(Qt::AlignRight);
    name_->setFixedWidth(170);
    column->addWidget(labelledRow(tr("Bundle name"), name_));
    folder_ = new QPushButton;
    folder_->setObjectName("bundleFolder");
    folder_->setMaximumWidth(200);
    column->addWidget(labelledRow(tr("Folder"), folder_));
    column->addWidget(sectionLabel(tr("Files to be written")));
    files_ = new QVBoxLayout;
    files_->setSpacing(4);
    column->addLayout(files_);
    write_ = new QPushButton(tr("Write the bundle"));
    write_->setObjectName("write");
    write_->setProperty("role", "act");
    column->addSpacing(4);
    column->addWidget(write_);
    busy_ = new QWidget;
    auto* row = new QHBoxLayout(busy_);
    row->setContentsMargins(0, 0, 0, 0);
    progress_ = new QProgressBar;
    progress_->setTextVisible(false);
    progress_->setRange(0, 1000);
    auto* cancel = new QPushButton(tr("Cancel"));
    row->addWidget(progress_, 1);
    row->addWidget(cancel);
    busy_->hide();
    column->addWidget(busy_);
    result_ = quietLabel();
    column->addWidget(result_);
    openPage_ = new QPushButton(tr("Open the page"));
    openPage_->setObjectName("openPage");
    openPage_->setToolTip(tr("Plays the bundle that was written, in the browser"));
    column->addWidget(openPage_);
    connect(openPage_, &QPushButton::clicked, this, [this] {
        QDesktopServices::openUrl(QUrl::fromLocalFile(
            session_.bundleFolder() + "/" +
            text(bundle::pageFileOf(QFileInfo(session_.bundleFolder()).fileName().toStdString()))));
    });
    settingsTitle_ = sectionLabel(tr("Import settings"));
    column->addWidget(settingsTitle_);
    settings_ = new QVBoxLayout;
    settings_->setSpacing(5);
    column->addLayout(settings_);
    column->addStretch(1);

    connect(name_, &QLineEdit::editingFinished, this, [this] {
        const std::string typed = name_->text().trimmed().toStdString();
        const bool plain =
            !typed.empty() && typed.find_first_of("/\\") == std::string::npos && typed[0] != '.';
        if (plain && typed != session_.document().assetName()) {
            session_.edit(tr("Name the bundle"), [&](project::Document& d) { d.ship.name = typed; });
        } else if (plain) {
            session_.edit(tr("Name the bundle"), [](project::Document& d) { d.ship.name.clear(); });
        }
        refresh();
    });
    connect(folder_, &QPushButton::clicked, this, [this] { trigger_("choose-folder"); });
    connect(write_, &QPushButton::clicked, this, [this] { trigger_("write-bundle"); });
    LatestJob& job = session_.shipJob();
    connect(cancel, &QPushButton::clicked, &job, &LatestJob::cancel);
    connect(&job, &LatestJob::runningChanged, this, [this](bool running) {
        progress_->setValue(0);
        busy_->setVisible(running);
        write_->setVisible(!running);
    });
    connect(&job, &LatestJob::progressed, this,
            [this](double f) { progress_->setValue(static_cast<int>(f * 1000.0)); });
}

void ShipBench::buildChoices(QVBoxLayout* column) {
    what_ = new SegmentedChoice({tr("baked textures"), tr("score as code")});
    what_->setObjectName("shipWhat");
    what_->setToolTips({tr("Textures that the engine plays, and code that reads them"),
                        tr("The displacement itself as code, and the mesh with what it reads; no textures")});
    column->addWidget(what_);
    exactSine_ = new TickBox(tr("Exact sine"));
    exactSine_->setObjectName("exactSine");
    exactSine_->setToolTip(
        tr("A sine that is good to two ten-millionths on every graphics card, for 13 more "
           "instructions each; their own may be wrong by a two-thousandth: a reed of 2 m moves "
           "1 mm beside its place"));
    storeMasks_ = new TickBox(tr("Masks stored at the vertices"));
    storeMasks_->setObjectName("storeMasks");
    storeMasks_->setToolTip(
        tr("Masks and courses are worked out here and stored in UV sets: shorter code, and "
           "copies that are merged into one mesh keep them"));
    half_ = new TickBox(tr("Half precision"));
    half_->setObjectName("halfPrecision");
    half_->setToolTip(
        tr("Masks, waves and normals in 16-bit floats, for graphics cards of telephones. Offered where the "
           "motion stays within the tolerance."));
    column->addWidget(exactSine_);
    column->addWidget(storeMasks_);
    column->addWidget(half_);
    testRow_ = new TickBox(tr("Test row in the textures"));
    testRow_->setObjectName("testRow");
    testRow_->setToolTip(
        tr("One more row of known values, by which the code can say while the game runs whether "
           "an importer changed the textures"));
    column->addWidget(testRow_);
    connect(testRow_, &TickBox::clicked, this, [this](bool on) {
        session_.edit(testRow_->text(), [on](project::Document& d) { d.recipe.testRow = on; });
    });
    connect(half_, &TickBox::clicked, this, [this](bool on) {
        session_.edit(tr("Half precision"), [on](project::Document& d) { d.ship.half = on; });
    });
    connect(what_, &SegmentedChoice::picked, this, [this](int index) {
        session_.edit(index == 1 ? tr("Ship the score as code") : tr("Ship baked textures"),
                      [index](project::Document& d) { d.ship.asCode = index == 1; });
    });
    connect(exactSine_, &TickBox::clicked, this, [this](bool on) {
        session_.edit(exactSine_->text(), [on](project::Document& d) { d.ship.exactSine = on; });
    });
    connect(storeMasks_, &TickBox::clicked, this, [this](bool on) {
        session_.edit(storeMasks_->text(), [on](project::Document& d) { d.ship.storeMasks = on; });
    });
}

void ShipBench::refreshChoices() {
    const project::Document& document = session_.document();
    const bool may = session_.performance() && !document.scoreOnTop;
    const bool code = may && document.ship.asCode;
    what_->setVisible(may);
    what_->show(code ? 1 : 0);
    exactSine_->setVisible(code);
    storeMasks_->setVisible(code);
    const auto ship = session_.ship();
    const bool within = ship && ship->asCode && ship->cost.half.all.max <= session_.tolerance();
    half_->setVisible(code && (within || document.ship.half));
    half_->setChecked(document.ship.half);
    testRow_->setVisible(!code);
    testRow_->setChecked(document.recipe.testRow);
    exactSine_->setChecked(document.ship.exactSine);
    storeMasks_->setChecked(document.ship.storeMasks);
}

void ShipBench::addScoreFacts(const bundle::ScoreManifest& manifest) {
    files_->addWidget(factRow(tr("Parameters"), QString::number(manifest.parameters.size())));
    files_->addWidget(factRow(tr("Loop"), tr("%1 s").arg(manifest.loopSeconds)));
    if (manifest.normalLossDeg) {
        files_->addWidget(factRow(tr("Normals lose, by stored masks"),
                                  text(base::degreesText(*manifest.normalLossDeg)),
                                  *manifest.normalLossDeg < 1.0 ? "glass" : "brass"));
    }
    for (const bundle::PlacedInput& input : manifest.inputs) {
        QStringList from;
        for (const std::string& each : input.from) {
            from << (each == "COPY" ? tr("the copy") : text(each));
        }
        settings_->addWidget(factRow(text(input.name), from.join(", ")));
    }
}

void ShipBench::restyle() {
    refresh();
    code_->restyle();
}

void ShipBench::refresh() {
    const project::Document& document = session_.document();
    name_->setText(text(document.ship.name.empty() ? document.assetName() : document.ship.name));
    const QString folder = text(document.ship.folder);
    folder_->setText(
        folder.isEmpty()
            ? tr("Choose…")
            : QFontMetrics(folder_->font()).elidedText(QDir(folder).dirName() + "/", Qt::ElideMiddle, 180));
    folder_->setToolTip(plainTip(folder));
    target_->refresh();
    refreshChoices();
    const auto ship = session_.ship();
    write_->setEnabled(session_.bake() != nullptr || (ship && ship->asCode));
    refreshFiles();
    refreshCheck();
    code_->refresh();
    cost_->refresh();
}

void ShipBench::refreshFiles() {
    emptyLayout(files_);
    emptyLayout(settings_);
    const auto ship = session_.ship();
    if (!ship) {
        files_->addWidget(quietLabel(session_.bake()
                                         ? tr("Sizes are being measured…")
                                         : tr("There is nothing to ship until something is baked.")));
        return;
    }
    std::size_t codeBytes = 0;
    QStringList code;
    QStringList languages;
    for (const ShipFile& file : ship->files) {
        const QString language = QFileInfo(text(file.file)).suffix();
        if (!ship->code.contains(language.toStdString())) {
            files_->addWidget(factRow(text(file.file), text(base::sizeText(file.bytes))));
            continue;
        }
        codeBytes += file.bytes; // the functions and a vertex stage in each language: one row
        code << text(file.file);
        if (!languages.contains(language.toUpper())) {
            languages << language.toUpper();
        }
    }
    QWidget* row = factRow(tr("Code in %1").arg(languages.join(", ")), text(base::sizeText(codeBytes)));
    row->setToolTip(plainTip(code.join(", ")));
    files_->addWidget(row);
    files_->addWidget(
        factRow(text(ship->asCode ? ship->score.name : ship->manifest.name) + ".bundle.json, IMPORT.md",
                text(base::sizeText(ship->notesBytes))));
    if (ship->asCode) {
        settingsTitle_->setText(tr("What the code reads"));
        addScoreFacts(ship->score);
        return;
    }
    settingsTitle_->setText(tr("Import settings"));
    const bool fits = session_.withinTolerance(ship->manifest.error);
    files_->addWidget(factRow(tr("Maximum error"), text(base::lengthText(ship->manifest.error.all.max)),
                              fits ? "glass" : "brass"));
    files_->addWidget(factRow(fits ? tr("Tolerance") : tr("Tolerance, exceeded"),
                              text(base::lengthText(session_.tolerance()))));
    for (const bundle::ImportSetting& setting : bundle::importSettings(ship->manifest)) {
        QWidget* settingRow = factRow(text(setting.setting), text(setting.value));
        QStringList files;
        for (const std::string& file : setting.files) {
            files << text(file);
        }
        settingRow->setToolTip(plainTip(tr("%1: %2").arg(files.join(", "), text(setting.why))));
        settings_->addWidget(settingRow);
    }
}

void ShipBench::refreshCheck() {
    emptyLayout(checkColumn_);
    const auto check = session_.lastCheck();
    openPage_->setVisible(check && session_.document().ship.page != bundle::Page::none);
    if (session_.shipProblem()) {
        result_->setText(text(session_.shipProblem()->line()));
        setRole(result_, "brick");
    } else if (check) {
        result_->setToolTip(plainTip(session_.bundleFolder()));
        result_->setText(check->ok() ? tr("Written and checked: %1").arg(nearName(session_.bundleFolder()))
                                     : tr("Written, but the check found a problem."));
        setRole(result_, check->ok() ? "glass" : "brick");
    } else {
        result_->setText(session_.changedSinceWritten()
                             ? tr("The choices have changed since it was written. Write it again.")
                             : tr("Not written yet."));
        setRole(result_, "quiet");
    }
    if (!check) {
        checkColumn_->addWidget(quietLabel(tr("After writing, the files are read again and compared with the "
                                              "source. The report appears here.")));
        checkColumn_->addStretch(1);
        return;
    }
    for (const base::Problem& problem : check->problems) {
        checkColumn_->addWidget(
            new Card(text(problem.what), text(problem.where + ": " + problem.fix + "."), "broken"));
    }
    checkColumn_->addWidget(factRow(tr("Files match the digests in the manifest"),
                                    check->ok() ? tr("yes") : tr("no"), check->ok() ? "glass" : "brick"));
    if (check->error) {
        const bake::ErrorReport& error = *check->error;
        checkColumn_->addWidget(
            factRow(tr("Maximum position error at kept frames"), text(base::lengthText(error.atFrames.max))));
        checkColumn_->addWidget(factRow(tr("Maximum position error between frames"),
                                        text(base::lengthText(error.betweenFrames.max))));
        checkColumn_->addWidget(
            factRow(tr("Position error, root mean square"), text(base::lengthText(error.all.rms))));
        const bool fits = session_.withinTolerance(error);
        checkColumn_->addWidget(factRow(
            tr("Tolerance"),
            (fits ? tr("%1, kept") : tr("%1, exceeded")).arg(text(base::lengthText(session_.tolerance()))),
            fits ? "glass" : "brass"));
        checkColumn_->addWidget(
            factRow(tr("Maximum normal error"), text(base::degreesText(error.normalMaxDegrees))));
    }
    for (const bundle::ClipCheck& clip : check->clips) {
        const auto frames = static_cast<int>(clip.frames);
        checkColumn_->addWidget(factRow(tr("Clip %1").arg(text(clip.name)),
                                        (clip.closed ? tr("%n frame(s), closed, seam gap %1", nullptr, frames)
                                                     : tr("%n frame(s), open, seam gap %1", nullptr, frames))
                                            .arg(text(base::lengthText(clip.seamGap)))));
    }
    checkColumn_->addStretch(1);
}

} // namespace ripple::app
