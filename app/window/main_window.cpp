#include "app/window/main_window.h"

#include "app/look/field_keys.h"
#include "app/look/number_field.h"

#include "app/stage/looks.h"
#include "app/look/theme.h"
#include "app/session/words.h"
#include "base/units.h"

#include <QApplication>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenuBar>
#include <QMimeData>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>

namespace ripple::app {

namespace {

constexpr int kDial = 238; ///< pixels
constexpr int kLargeDial = 296;

/// The buttons over the stage keep to its top right corner.
class LookBar : public QWidget {
public:
    explicit LookBar(QWidget* stage) : QWidget(stage) { stage->installEventFilter(this); }
    void place() {
        adjustSize();
        move(parentWidget()->width() - width() - 12, 10);
    }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override {
        if (event->type() == QEvent::Resize || event->type() == QEvent::Show) {
            place();
        }
        return QWidget::eventFilter(watched, event);
    }
    bool event(QEvent* event) override {
        if (event->type() == QEvent::LayoutRequest) {
            place(); // a look came or went
        }
        return QWidget::event(event);
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
    refreshLooks();
}

MainWindow::~MainWindow() {
    // Views go while the session that they show is whole, and it must not tell us of its own end.
    session_.undoStack().disconnect(this);
    session_.disconnect(this);
    delete takeCentralWidget();
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
    title_->setTextFormat(Qt::PlainText);
    title_->setObjectName("title");
    title_->setAlignment(Qt::AlignCenter);
    auto* keys = new QPushButton("?");
    keys->setProperty("role", "tab");
    keys->setToolTip(tr("Keyboard shortcuts"));
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
        auto* words = new QLabel(
            tr("This display has no OpenGL: the model can't be drawn here. Everything else works."));
        words->setAlignment(Qt::AlignCenter);
        words->setWordWrap(true);
        return words;
    }
    stage_ = new Stage(session_);
    auto* bar = new LookBar(stage_);
    auto* row = new QHBoxLayout(bar);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    for (int i = 0; i < static_cast<int>(looks().size()); ++i) {
        const LookRow& look = looks()[static_cast<std::size_t>(i)];
        auto* button = new QPushButton(lookWords(look.text));
        button->setObjectName(QString("look ") + look.id);
        button->setProperty("role", "look");
        button->setCheckable(true);
        button->setToolTip(QString("%1 (%2)").arg(lookWords(look.words), look.key));
        button->setFocusPolicy(Qt::TabFocus);
        looks_.addButton(button, i);
        row->addWidget(button);
    }
    connect(&looks_, &QButtonGroup::idClicked, this,
            [this](int i) { setLook(looks()[static_cast<std::size_t>(i)].id); });
    connect(&session_, &Session::vertexWanted, stage_, &Stage::lookAtVertex);
    connect(stage_, &Stage::drawn, this, &MainWindow::refreshFigures);
    return stage_;
}

void MainWindow::buildWindow() {
    setMenuWidget(buildTopBar());
    rail_ = new Rail(session_);
    dial_ = new Dial(session_);
    panels_ = new QStackedWidget;
    panels_->setObjectName("panel");
    panels_->setFixedWidth(340);
    strips_ = new QStackedWidget;
    strips_->setObjectName("strip");
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
    if (stage_) {
        stage_->raise(); // painted after the others: it is being drawn meanwhile
    }
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
        actions_.action("undo")->setText(stack.canUndo() ? tr("Undo “%1”").arg(stack.undoText())
                                                         : tr("Undo"));
        actions_.action("redo")->setText(stack.canRedo() ? tr("Redo “%1”").arg(stack.redoText())
                                                         : tr("Redo"));
        actions_.refresh();
        refreshTitle();
    });
    for (LatestJob* job :
         {&session_.sourceJob(), &session_.surveyJob(), &session_.bakeJob(), &session_.shipJob(),
          &session_.scatterJob()}) {
        connect(job, &LatestJob::runningChanged, this, [this] { actions_.refresh(); });
    }
    connect(&session_, &Session::bakeFinished, this, [this] { actions_.refresh(); });
    connect(&session_, &Session::bakeFinished, this, &MainWindow::refreshLooks);
    connect(&session_, &Session::sourceLoaded, this, [this] {
        actions_.refresh();
        refreshLooks();
    });
    connect(&session_, &Session::sourceReloaded, this, [this](const QStringList& changes) {
        findings_->tell(changes.isEmpty() ? tr("The source was written again, without visible changes.")
                                          : tr("The source changed on disk: %1.").arg(changes.join("; ")),
                        Lamp::look);
    });
    connect(&session_, &Session::projectFileChanged, this, [this] {
        lock_.take(session_.projectFile()); // gives up the one before; who opens or saves has asked already
    });
    connect(&autosave_, &Autosave::keptElsewhere, this, [this](const QString& path) {
        findings_->tell(
            tr("The project's folder can't be written to. Unsaved changes are kept in %1.").arg(path),
            Lamp::look);
    });
    connect(&session_, &Session::reloadFailed, this,
            [this](const QString& words) { findings_->tell(words, Lamp::broken); });
    connect(&session_, &Session::said, this,
            [this](const QString& words) { findings_->say(words, Lamp::fine); });
    connect(&session_, &Session::bundleWritten, this, [this] {
        const auto check = session_.lastCheck();
        if (check && check->ok()) {
            const bool fits = !check->error || session_.withinTolerance(*check->error);
            const QString words =
                fits ? tr("%1 is written, read back and within the %2 tolerance.")
                     : tr("%1 is written and read back; its error is over the %2 tolerance.");
            findings_->say(words.arg(QFileInfo(session_.bundleFolder()).fileName(),
                                     QString::fromStdString(base::lengthText(session_.tolerance()))),
                           fits ? Lamp::fine : Lamp::look);
        }
    });
    connect(&session_.bakeJob(), &LatestJob::cancelled, this, [this] {
        findings_->say(tr("Cancelled: the previous bake is shown. Edit › Bake again starts over."),
                       Lamp::look);
    });
}

void MainWindow::refreshView() {
    const project::View& view = session_.document().view;
    const int bench = benchIndex(view.bench);
    panels_->setCurrentIndex(bench);
    strips_->setCurrentIndex(bench);
    // Where the voices' rings are worked by there is more of the dial.
    const int side = benchOf(view).voices ? kLargeDial : kDial;
    dial_->setFixedSize(side - 2, side);
    strips_->setFixedHeight(side);
    rail_->update();
    refreshLooks(); // a bench may have its own
    for (int i = 0; i < static_cast<int>(looks().size()); ++i) {
        if (auto* button = looks_.button(i); button && view.look == looks()[static_cast<std::size_t>(i)].id) {
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
    const std::size_t vertices = source ? source->mesh().vertexCount() : 0;
    constexpr qint64 kOften = 200; // milliseconds: nobody reads figures that change faster
    if (vertices == verticesShown_ && figuresShown_.isValid() && figuresShown_.elapsed() < kOften) {
        return;
    }
    verticesShown_ = vertices;
    figuresShown_.start();
    const QString time = QString::number(stage_->drawMilliseconds(), 'f', 1);
    findings_->setFigures(
        source ? tr("%1 vertices, %2 ms per picture").arg(text(base::countText(vertices)), time)
               : tr("%1 ms per picture").arg(time));
}

void MainWindow::showBench(int index) {
    session_.look(
        [index](project::View& view) { view.bench = kBenches[static_cast<std::size_t>(index)].id; });
}

void MainWindow::setLook(const std::string& look) {
    const bool again = session_.document().view.look == look && session_.source();
    if (const LookRow& row = lookOf(session_.document().view); again && row.again) {
        row.again(session_); // taken again, a look shows the next of what it has
        return;
    }
    session_.look([&](project::View& view) { view.look = look; });
}

void MainWindow::refreshLooks() {
    for (int i = 0; i < static_cast<int>(looks().size()); ++i) {
        if (auto* button = looks_.button(i)) {
            button->setVisible(isAvailable(looks()[static_cast<std::size_t>(i)], session_));
        }
    }
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

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    auto* button = qobject_cast<QAbstractButton*>(watched);
    if (button && event->type() == QEvent::Polish && button->focusPolicy() != Qt::NoFocus) {
        button->setFocusPolicy(Qt::TabFocus); // a click must not take the space bar away from playing
    }
    if (button && event->type() == QEvent::ShortcutOverride &&
        static_cast<QKeyEvent*>(event)->key() == Qt::Key_Space) {
        event->accept(); // reached with Tab, a button is pressed with the space bar
        return true;
    }
    if (auto* line = qobject_cast<QLineEdit*>(watched); line && line->window() == this) {
        if (event->type() == QEvent::FocusIn) {
            rememberText(*line);
        }
        if (event->type() == QEvent::ShortcutOverride) {
            event->setAccepted(takesKey(*line, *static_cast<QKeyEvent*>(event)));
            return true;
        }
        // A number field does this itself; it knows its number.
        const bool number = qobject_cast<NumberField*>(line) != nullptr;
        if (!number && event->type() == QEvent::KeyPress && line->isModified() &&
            static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
            revert(*line);
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!mayLeave()) {
        event->ignore();
        return;
    }
    QSettings().setValue("window/geometry", saveGeometry());
    autosave_.drop();
    event->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) {
        event->acceptProposedAction();
    }
}

void MainWindow::dropEvent(QDropEvent* event) {
    const QList<QUrl> urls = event->mimeData()->urls();
    const QString path = urls.isEmpty() ? QString() : urls[0].toLocalFile();
    // A score is an edit of what is open; anything else takes its place.
    if (!path.isEmpty() && (path.endsWith(".score", Qt::CaseInsensitive) || mayLeave())) {
        openPath(path);
        event->acceptProposedAction();
    }
}

} // namespace ripple::app
