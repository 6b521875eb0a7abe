#pragma once

#include "app/shell/main_window.h"

#include <QApplication>
#include <QTest>

#include <memory>

namespace ripple::tests {

/// The window of 1280 × 800 as a person has it, shown and active. What waits for a change to come to rest waits
/// less: nobody drags here. Null, with a failed test, if it does not show.
inline std::unique_ptr<app::MainWindow> shownWindow() {
    constexpr int kRest = 15; // milliseconds
    auto window = std::make_unique<app::MainWindow>();
    window->session().setRest(kRest);
    if (window->stage()) {
        window->stage()->setRest(kRest);
    }
    window->resize(1280, 800);
    window->show();
    if (!QTest::qWaitForWindowExposed(window.get())) {
        QTest::qFail("the window does not show", __FILE__, __LINE__);
    }
    QApplication::setActiveWindow(window.get()); // there is no window manager here to do it
    return window;
}

} // namespace ripple::tests
