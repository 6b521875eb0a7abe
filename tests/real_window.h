#pragma once

#include "app/window/main_window.h"
#include "app/window/pictures.h"

#include <QApplication>
#include <QImage>
#include <QMouseEvent>
#include <QTest>

#include <cmath>
#include <memory>

namespace ripple::tests {

/// What waits for a change to come to rest waits less in tests: nobody drags there. In milliseconds.
constexpr int kRest = 15;

/// The window of 1280 × 800 as a person has it, shown and active. Pictures stay drafts unless `finished`
/// ones are looked at: drawing those is most of what these tests would cost. The bake bench shows its sheet:
/// the ladder is measured only where it is looked at.
inline std::unique_ptr<app::MainWindow> shownWindow(bool finished = false) {
    // As main() does: work that is still ending must not outlive what libraries clean up at exit.
    static const bool kOnce = (qAddPostRoutine([] { app::LatestJob::waitForAll(60000); }), true);
    static_cast<void>(kOnce);
    auto window = std::make_unique<app::MainWindow>();
    window->session().setRest(kRest);
    if (window->stage()) {
        window->stage()->setRest(finished ? kRest : -1);
    }
    window->bench(1).showStrip(1);
    window->resize(1280, 800);
    window->show();
    if (!QTest::qWaitForWindowExposed(window.get())) {
        QTest::qFail("the window does not show", __FILE__, __LINE__);
    }
    QApplication::setActiveWindow(window.get()); // there is no window manager here to do it
    return window;
}

/// A window for many tests, each of which begins with an empty project in it: to make one takes longer than
/// most of what they do. Tests of how a window starts and ends make their own.
class SharedWindow {
public:
    app::MainWindow* operator->() const { return window_.get(); }
    app::MainWindow& operator*() const { return *window_; }

    /// In init().
    void begin() {
        if (!window_) {
            window_ = shownWindow();
            return;
        }
        app::MainWindow& window = *window_;
        window.session().setRest(kRest);
        window.stage()->setRest(-1);
        window.stage()->frameModel(false);
        for (int bench = 0; bench < static_cast<int>(app::kBenchCount); ++bench) {
            window.bench(bench).showStrip(bench == 1 ? 1 : 0);
        }
        window.showBench(0);
        window.resize(1280, 800);
        QApplication::setActiveWindow(&window);
    }
    /// In cleanup(): leaves the project as a person does who throws its changes away.
    void end() {
        while (QWidget* popup = QApplication::activePopupWidget()) {
            popup->close();
        }
        app::Session& session = window_->session();
        session.playhead().setPlaying(false);
        app::waitUntilIdle(*window_);
        session.undoStack().setClean();
        window_->autosave().drop();
        session.newProject();
        app::waitUntilIdle(*window_);
    }
    /// In cleanupTestCase().
    void close() { window_.reset(); }

private:
    std::unique_ptr<app::MainWindow> window_;
};

/// Drags with the left button from one place of a widget to another, in a few steps.
inline void drag(QWidget& widget, const QPointF& from, const QPointF& to) {
    constexpr int kSteps = 5;
    QTest::mousePress(&widget, Qt::LeftButton, {}, from.toPoint());
    for (int step = 1; step <= kSteps; ++step) {
        const QPointF at = from + (to - from) * step / kSteps;
        QMouseEvent move(QEvent::MouseMove, at, widget.mapToGlobal(at), Qt::NoButton, Qt::LeftButton, {});
        QApplication::sendEvent(&widget, &move);
    }
    QTest::mouseRelease(&widget, Qt::LeftButton, {}, to.toPoint());
}

/// Mean difference of grey, 0..255, between two pictures of the stage, without what is painted at its edges.
inline double difference(const QImage& a, const QImage& b) {
    double sum = 0.0;
    for (int y = 60; y < a.height() - 60; y += 2) {
        for (int x = 30; x < a.width() - 30; x += 2) {
            sum += std::abs(qGray(a.pixel(x, y)) - qGray(b.pixel(x, y)));
        }
    }
    return 4.0 * sum / static_cast<double>(a.width() * a.height());
}

} // namespace ripple::tests
