#pragma once

#include "app/window/main_window.h"

#include <QApplication>
#include <QTest>

#include <memory>

namespace ripple::tests {

/// The window of 1280 × 800 as a person has it, shown and active. What waits for a change to come to rest
/// waits less: nobody drags here. Pictures stay drafts unless `finished` ones are looked at: drawing those is
/// most of what these tests would cost.
inline std::unique_ptr<app::MainWindow> shownWindow(bool finished = false) {
    constexpr int kRest = 15; // milliseconds
    auto window = std::make_unique<app::MainWindow>();
    window->session().setRest(kRest);
    if (window->stage()) {
        window->stage()->setRest(finished ? kRest : -1);
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
