#include "app/shell/main_window.h"

#include "app/shell/theme.h"
#include "base/units.h"
#include "base/version.h"
#include "source/open.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDialog>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

namespace ripple::app {

namespace {

struct LookRow {
    const char* id;
    const char* text;
    const char* key;
};
constexpr LookRow kLooks[] = {{"lit", "Lit", "L"}, {"wire", "Wire", "W"}, {"uv-grid", "UV grid", "U"}, {"normals", "Normals", "N"}};
constexpr int kMostRecent = 8;

QString sourceFilter() {
    QString patterns;
    for (const source::Reader& reader : source::readers()) {
        for (const QString& extension : QString(reader.extensions).split(' ')) {
            patterns += (patterns.isEmpty() ? "*" : " *") + extension;
        }
    }
    return QObject::tr("Deforming meshes (%1);;All files (*)").arg(patterns);
}

/// The buttons over the stage keep to its top right corner.
class LookBar : public QWidget {
public:
    explicit LookBar(QWidget* stage) : QWidget(stage) { stage->installEventFilter(this); }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (event->type() == QEvent::Resize || event->type() == QEvent::Show) {
            adjustSize();
            move(static_cast<QWidget*>(watched)->width() - width() - 12, 10);
        }
        return QWidget::eventFilter(watched, event);
    }
};

} // namespace

MainWindow::MainWindow(QWidget* parent) : QMainWindow(parent) {
    setAcceptDrops(true);
    qApp->installEventFilter(this);
    benches_ = makeBenches(session_, [this](const QString& id) { actions_.trigger(id); });
    actions_.build(this, actionRows());
    buildWindow();
    connectSession();
    resize(1280, 800);
    const QSettings settings;
    restoreGeometry(settings.value("window/geometry").toByteArray());
    refreshView();
    refreshTitle();
}

MainWindow::~MainWindow() {
    // Views go while the session that they show is whole, and it must not tell us of its own end.
    session_.undoStack().disconnect(this);
    session_.disconnect(this);
    delete takeCentralWidget();
}

std::vector<ActionRow> MainWindow::actionRows() {
    const auto hasSource = [this] { return session_.source() != nullptr; };
    const auto hasTime = [this] { return session_.playhead().clip() != nullptr; };
    Playhead& playhead = session_.playhead();
    std::vector<ActionRow> rows = {
        {"new", "Project", tr("New project"), "Ctrl+N", [this] { if (mayLeave()) { session_.newProject(); } }},
        {"open-project", "Project", tr("Open project…"), "Ctrl+O", [this] { openDialog(true); }},
        {"open-source", "Project", tr("Open source…"), "Ctrl+Shift+O", [this] { openDialog(false); }},
        {"recent", "Project", tr("Recent…"), "Ctrl+R", [this] { showRecent(); }, [this] { return !recent().isEmpty(); }},
        {"save", "Project", tr("Save"), "Ctrl+S", [this] { save(); }, {}, {}, true},
        {"save-as", "Project", tr("Save as…"), "Ctrl+Shift+S", [this] { saveAs(); }},
        {"choose-folder", "Project", tr("Choose the bundle's folder…"), "", [this] { chooseFolder(); }, hasSource, {}, true},
        {"write-bundle", "Project", tr("Write the bundle"), "Ctrl+B", [this] { writeBundle(); }, [this] { return session_.bake() != nullptr; }},
        {"quit", "Project", tr("Quit"), "Ctrl+Q", [this] { close(); }, {}, {}, true},
        {"undo", "Edit", tr("Undo"), "Ctrl+Z", [this] { session_.undoStack().undo(); }, [this] { return session_.undoStack().canUndo(); }},
        {"redo", "Edit", tr("Redo"), "Ctrl+Shift+Z", [this] { session_.undoStack().redo(); }, [this] { return session_.undoStack().canRedo(); }},
        {"cancel", "Edit", tr("Cancel what runs"), "Esc", [this] {
             session_.bakeJob().cancel();
             session_.sourceJob().cancel();
             session_.shipJob().cancel();
         }, [this] { return session_.bakeJob().running() || session_.sourceJob().running() || session_.shipJob().running(); }, {}, true},
        {"bake-again", "Edit", tr("Bake again"), "Ctrl+Shift+B", [this] { session_.rebake(); }, hasSource},
    };
    for (const LookRow& look : kLooks) {
        rows.push_back({QString("look-") + look.id, "Look", look.text, look.key, [this, id = std::string(look.id)] { setLook(id); }, {},
                        [this, id = std::string(look.id)] { return session_.document().view.look == id; }});
    }
    const std::vector<ActionRow> more = {
        {"view-whole", "Look", tr("Whole model in view"), "V", [this] { if (stage_) { stage_->frameModel(true); } }, hasSource, {}, true},
        {"view-reset", "Look", tr("Look from the front corner"), "Shift+V", [this] { if (stage_) { stage_->frameModel(false); } }, hasSource},
        {"curtain-middle", "Look", tr("Curtain to the middle"), "C", [this] { session_.look([](project::View& v) { v.curtain = 0.5; }); }},
        {"day", "Look", tr("Day theme"), "", [this] { setDayTheme(themeKind() == ThemeKind::dusk); }, {}, [] { return themeKind() == ThemeKind::day; }, true},
        {"play", "Time", tr("Play or pause"), "Space", [&playhead] { playhead.toggle(); }, hasTime},
        {"next-frame", "Time", tr("Next frame"), "Right", [&playhead] { playhead.step(1); }, hasTime},
        {"previous-frame", "Time", tr("Previous frame"), "Left", [&playhead] { playhead.step(-1); }, hasTime},
        {"first-frame", "Time", tr("First frame"), "Home", [&playhead] { playhead.setPlaying(false); playhead.setFrame(0.0); }, hasTime},
        {"next-clip", "Time", tr("Next clip"), "K", [&playhead] {
             const int count = static_cast<int>(playhead.clips().size());
             playhead.setClipIndex((playhead.clipIndex() + 1) % std::max(count, 1));
         }, [&playhead] { return playhead.clips().size() > 1; }},
        {"shortcuts", "Help", tr("Keys"), "F1", [this] { showShortcuts(); }},
        {"about", "Help", tr("About Curly Ripple"), "", [this] { showAbout(); }},
    };
    rows.insert(rows.end(), more.begin(), more.end());
    for (std::size_t b = 0; b < kBenches.size(); ++b) {
        rows.push_back({QString("bench-") + kBenches[b].id, "Look", tr("%1 bench").arg(kBenches[b].name), QString::number(b + 1),
                        [this, b] { showBench(static_cast<int>(b)); }, {},
                        [this, b] { return benchIndex(session_.document().view.bench) == static_cast<int>(b); }, b == 0});
    }
    return rows;
}

QWidget* MainWindow::buildTopBar() {
    auto* bar = new QWidget;
    bar->setObjectName("topBar");
    bar->setAttribute(Qt::WA_StyledBackground);
    bar->setFixedHeight(32);
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(6, 0, 10, 0);
    auto* menus = new QMenuBar;
    menus->setNativeMenuBar(false);
    actions_.fill(menus);
    title_ = new QLabel;
    title_->setObjectName("title");
    title_->setAlignment(Qt::AlignCenter);
    auto* keys = new QPushButton("?");
    keys->setProperty("role", "tab");
    keys->setToolTip(tr("Keys"));
    keys->setFocusPolicy(Qt::NoFocus);
    connect(keys, &QPushButton::clicked, this, [this] { actions_.trigger("shortcuts"); });
    row->addWidget(menus);
    row->addWidget(title_, 1);
    row->addSpacing(230); // as wide as the menus, so that the title is in the middle
    row->addWidget(keys);
    return bar;
}

QWidget* MainWindow::buildStage() {
    if (QGuiApplication::platformName() == "offscreen") {
        auto* words = new QLabel(tr("This display has no OpenGL: the model can't be drawn here. Everything else works."));
        words->setAlignment(Qt::AlignCenter);
        words->setWordWrap(true);
        return words;
    }
    stage_ = new Stage(session_);
    auto* bar = new LookBar(stage_);
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    for (int i = 0; i < static_cast<int>(std::size(kLooks)); ++i) {
        auto* button = new QPushButton(tr(kLooks[i].text));
        button->setObjectName(QString("look ") + kLooks[i].id);
        button->setProperty("role", "look");
        button->setCheckable(true);
        button->setToolTip(QString("%1 (%2)").arg(kLooks[i].text, kLooks[i].key));
        button->setFocusPolicy(Qt::TabFocus);
        looks_.addButton(button, i);
        row->addWidget(button);
    }
    connect(&looks_, &QButtonGroup::idClicked, this, [this](int i) { setLook(kLooks[i].id); });
    connect(&session_, &Session::vertexWanted, stage_, &Stage::lookAtVertex);
    connect(stage_, &Stage::drawn, this, &MainWindow::refreshFigures);
    return stage_;
}

void MainWindow::buildWindow() {
    setMenuWidget(buildTopBar());
    rail_ = new Rail(session_);
    dial_ = new Dial(session_);
    dial_->setFixedSize(236, 238);
    panels_ = new QStackedWidget;
    panels_->setObjectName("panel");
    panels_->setFixedWidth(340);
    strips_ = new QStackedWidget;
    strips_->setObjectName("strip");
    strips_->setFixedHeight(238);
    for (const auto& bench : benches_) {
        panels_->addWidget(bench->panel());
        strips_->addWidget(bench->strip());
    }
    findings_ = new FindingsLine(session_);

    auto* below = new QHBoxLayout;
    below->setSpacing(0);
    below->addWidget(dial_);
    below->addWidget(strips_, 1);
    auto* middle = new QVBoxLayout;
    middle->setSpacing(0);
    middle->addWidget(buildStage(), 1);
    middle->addLayout(below);
    auto* across = new QHBoxLayout;
    across->setSpacing(0);
    across->addWidget(rail_);
    across->addLayout(middle, 1);
    across->addWidget(panels_);
    auto* whole = new QVBoxLayout;
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(0);
    whole->addLayout(across, 1);
    whole->addWidget(findings_);
    auto* centre = new QWidget;
    centre->setLayout(whole);
    setCentralWidget(centre);
}

void MainWindow::connectSession() {
    connect(rail_, &Rail::chosen, this, &MainWindow::showBench);
    connect(&session_, &Session::documentChanged, this, [this](unsigned changes) {
        if (changes & kViewChange) {
            refreshView();
        }
        refreshTitle();
        actions_.refresh();
    });
    connect(&session_, &Session::projectFileChanged, this, &MainWindow::refreshTitle);
    connect(&session_.undoStack(), &QUndoStack::indexChanged, this, [this] {
        const QUndoStack& stack = session_.undoStack();
        actions_.action("undo")->setText(stack.canUndo() ? tr("Undo “%1”").arg(stack.undoText()) : tr("Undo"));
        actions_.action("redo")->setText(stack.canRedo() ? tr("Redo “%1”").arg(stack.redoText()) : tr("Redo"));
        actions_.refresh();
        refreshTitle();
    });
    for (LatestJob* job : {&session_.sourceJob(), &session_.bakeJob(), &session_.shipJob()}) {
        connect(job, &LatestJob::runningChanged, this, [this] { actions_.refresh(); });
    }
    connect(&session_, &Session::bakeFinished, this, [this] { actions_.refresh(); });
    connect(&session_, &Session::sourceLoaded, this, [this] { actions_.refresh(); });
    connect(&session_, &Session::bundleWritten, this, [this] {
        const auto check = session_.lastCheck();
        if (check && check->ok()) {
            findings_->say(tr("%1 is written, read back and as good as it should be.").arg(QFileInfo(session_.bundleFolder()).fileName()), Lamp::fine);
        }
    });
    connect(&session_.bakeJob(), &LatestJob::cancelled, this, [this] {
        findings_->say(tr("Cancelled: what is shown is the bake before. Edit › Bake again takes it up."), Lamp::look);
    });
}

void MainWindow::refreshView() {
    const project::View& view = session_.document().view;
    const int bench = benchIndex(view.bench);
    panels_->setCurrentIndex(bench);
    strips_->setCurrentIndex(bench);
    rail_->update();
    for (int i = 0; i < static_cast<int>(std::size(kLooks)); ++i) {
        if (auto* button = looks_.button(i); button && view.look == kLooks[i].id) {
            button->setChecked(true);
        }
    }
}

void MainWindow::refreshTitle() {
    const QString title = session_.title();
    title_->setText(title + " — Curly Ripple");
    setWindowTitle(title + " — Curly Ripple");
}

void MainWindow::refreshFigures() {
    const auto source = session_.source();
    const QString vertices = source ? QString::fromStdString(base::countText(source->mesh().vertexCount())) + tr(" v · ") : QString();
    findings_->setFigures(vertices + QString::number(stage_->drawMilliseconds(), 'f', 1) + " ms");
}

void MainWindow::showBench(int index) {
    session_.look([index](project::View& view) { view.bench = kBenches[static_cast<std::size_t>(index)].id; });
}

void MainWindow::setLook(const std::string& look) {
    session_.look([&](project::View& view) { view.look = look; });
}

void MainWindow::setDayTheme(bool day) {
    applyTheme(*qApp, day ? ThemeKind::day : ThemeKind::dusk);
    for (const auto& bench : benches_) {
        bench->restyle();
    }
    for (QWidget* widget : findChildren<QWidget*>()) {
        widget->update();
    }
}

void MainWindow::openPath(const QString& path) {
    try {
        session_.open(path);
        remember(path);
    } catch (const base::Failure& failure) {
        findings_->say(QString::fromStdString(failure.problem().line()), Lamp::broken);
    }
}

void MainWindow::openDialog(bool project) {
    if (!mayLeave()) {
        return;
    }
    const QString near = QFileInfo(QString::fromStdString(session_.document().source.path)).path();
    const QString path = QFileDialog::getOpenFileName(this, project ? tr("Open project") : tr("Open source"), near,
                                                      project ? tr("Projects (*.curly);;All files (*)") : sourceFilter());
    if (!path.isEmpty()) {
        openPath(path);
    }
}

bool MainWindow::save() {
    if (session_.projectFile().isEmpty()) {
        return saveAs();
    }
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
    const QString near = QFileInfo(QString::fromStdString(session_.document().source.path)).path() + "/" +
                         QString::fromStdString(session_.document().assetName()) + ".curly";
    QString path = QFileDialog::getSaveFileName(this, tr("Save project"), near, tr("Projects (*.curly)"));
    if (path.isEmpty()) {
        return false;
    }
    if (!path.endsWith(".curly")) {
        path += ".curly";
    }
    try {
        session_.saveAs(path);
        remember(path);
        return true;
    } catch (const base::Failure& failure) {
        findings_->say(QString::fromStdString(failure.problem().line()), Lamp::broken);
        return false;
    }
}

void MainWindow::chooseFolder() {
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Folder for the bundle"), QString::fromStdString(session_.document().ship.folder));
    if (!folder.isEmpty()) {
        session_.edit(tr("Choose the bundle's folder"), [&](project::Document& d) { d.ship.folder = folder.toStdString(); });
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
    QMessageBox box(QMessageBox::Question, tr("Curly Ripple"), tr("“%1” has changes that are not saved.").arg(QString::fromStdString(session_.document().assetName())),
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

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    auto* button = qobject_cast<QAbstractButton*>(watched);
    if (button && event->type() == QEvent::Polish && button->focusPolicy() != Qt::NoFocus) {
        button->setFocusPolicy(Qt::TabFocus); // a click must not take the space bar away from playing
    }
    if (button && event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Space) {
        event->accept(); // reached with Tab, a button is pressed with the space bar
        return true;
    }
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!mayLeave()) {
        event->ignore();
        return;
    }
    QSettings().setValue("window/geometry", saveGeometry());
    event->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) {
        event->acceptProposedAction();
    }
}

void MainWindow::dropEvent(QDropEvent* event) {
    const QList<QUrl> urls = event->mimeData()->urls();
    if (!urls.isEmpty() && urls[0].isLocalFile() && mayLeave()) {
        openPath(urls[0].toLocalFile());
        event->acceptProposedAction();
    }
}

void MainWindow::showShortcuts() {
    QDialog dialog(this);
    dialog.setWindowTitle(tr("Keys"));
    auto* grid = new QGridLayout(&dialog);
    grid->setContentsMargins(22, 18, 22, 18);
    grid->setHorizontalSpacing(26);
    int row = 0;
    int column = 0;
    QString menu;
    const int half = static_cast<int>(actions_.rows().size()) / 2 + 2;
    for (const ActionRow& action : actions_.rows()) {
        if (action.shortcut.isEmpty()) {
            continue;
        }
        if (row > half) {
            row = 0;
            column = 2;
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
    QMessageBox::about(this, tr("About Curly Ripple"),
                       tr("<b>%1</b><br>Bakes mesh deformation into vertex animation textures.<br>GPL-3.0-or-later.").arg(base::generatorName()));
}

} // namespace ripple::app
