#pragma once

#include <QEvent>
#include <QWidget>

#include <functional>

namespace ripple::app {

/// Brings a widget up to date when it is seen: at once, or as soon as it is shown.
class WhenSeen : public QObject {
public:
    WhenSeen(QWidget* widget, std::function<void()> refresh)
        : QObject(widget),
          widget_(widget),
          refresh_(std::move(refresh)) {
        widget->installEventFilter(this);
    }

    void ask() {
        asked_ = !widget_->isVisible();
        if (!asked_) {
            refresh_();
        }
    }

    bool eventFilter(QObject* object, QEvent* event) override {
        if (event->type() == QEvent::Show && asked_) {
            asked_ = false;
            refresh_();
        }
        return QObject::eventFilter(object, event);
    }

private:
    QWidget* widget_;
    std::function<void()> refresh_;
    bool asked_ = false;
};

} // namespace ripple::app
