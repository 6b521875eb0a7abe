#pragma once

#include "app/benches/bench.h"
#include "app/dial/dial.h"
#include "app/window/actions.h"
#include "app/window/autosave.h"
#include "app/window/project_lock.h"
#include "app/window/findings_line.h"
#include "app/window/rail.h"
#include "app/session/session.h"
#include "app/session/source_watch.h"
#include "app/stage/stage.h"

#include <QLabel>
#include <QMainWindow>
#include <QStackedWidget>

namespace ripple::app {

/// Rail, stage, panel, dial, strip and findings line, about one session.
class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(QWidget* parent = nullptr);
    ~MainWindow() override;

    Session& session() { return session_; }
    ActionTable& actions() { return actions_; }
    /// Null where no OpenGL can be had (the offscreen platform).
    Stage* stage() const { return stage_; }
    Dial* dial() const { return dial_; }
    Rail* rail() const { return rail_; }
    Bench& bench(int index) { return *benches_[static_cast<std::size_t>(index)]; }
    FindingsLine* findingsLine() const { return findings_; }

    /// Opens a project or a source; a problem is shown in the window. What was left unsaved of a project is
    /// offered.
    void openPath(const QString& path);
    /// Offers what a crash left of a project without a file.
    void offerUntitled();
    Autosave& autosave() { return autosave_; }
    void showBench(int index);
    void setDayTheme(bool day);

protected:
    void closeEvent(QCloseEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    std::vector<ActionRow> actionRows();
    QWidget* buildTopBar();
    QWidget* buildStage();
    void buildWindow();
    void connectSession();
    void refreshView();
    void refreshTitle();
    void refreshFigures();
    bool save();
    bool saveNow();
    bool saveAs();
    void openDialog(bool project);
    QString dialogFolder(const std::string& file = {}) const;
    void openScore(const QString& path);
    void openScoreDialog();
    void saveScoreDialog();
    void chooseFolder();
    void writeBundle();
    void showShortcuts();
    void showAbout();
    void showRecent();
    void remember(const QString& path);
    QStringList recent() const;
    bool mayLeave();
    void setLook(const std::string& look);
    void refreshLooks();
    void offer(const Autosave::Left& left);
    /// Opens a project; where another window has it, a copy of it, and says so.
    void openProject(const QString& path);

    Session session_;
    ProjectLock lock_;
    Autosave autosave_{session_};
    SourceWatch watch_{session_};
    ActionTable actions_;
    std::vector<std::unique_ptr<Bench>> benches_;
    Rail* rail_ = nullptr;
    Stage* stage_ = nullptr;
    Dial* dial_ = nullptr;
    FindingsLine* findings_ = nullptr;
    QStackedWidget* panels_ = nullptr;
    QStackedWidget* strips_ = nullptr;
    QLabel* title_ = nullptr;
    QButtonGroup looks_;
    std::size_t verticesShown_ = 0;
    QElapsedTimer figuresShown_;
};

} // namespace ripple::app
