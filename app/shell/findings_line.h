#pragma once

#include "app/shell/bench_state.h"

#include <QLabel>
#include <QPushButton>
#include <QWidget>

namespace ripple::app {

/// The worst open problem, in words, and what fixes it.
class FindingsLine : public QWidget {
    Q_OBJECT
public:
    explicit FindingsLine(Session& session, QWidget* parent = nullptr);
    QString words() const { return words_->text(); }
    void setFigures(const QString& text) { figures_->setText(text); }
    /// Something that just happened; it gives way to the findings at the next change.
    void say(const QString& text, Lamp lamp);

private:
    void refresh();

    class LampLight;
    Session& session_;
    LampLight* lamp_;
    QLabel* words_;
    QPushButton* fix_;
    QLabel* figures_;
    std::function<void()> action_;
};

} // namespace ripple::app
