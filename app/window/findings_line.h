#pragma once

#include "app/session/bench_state.h"

#include <QLabel>
#include <QPushButton>
#include <QTimer>
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
    /// Something that should be read before it gives way: it stays for some seconds.
    void tell(const QString& text, Lamp lamp);
    /// A question with two answers; it stays until it is answered.
    void ask(const QString& text, OpenFix yes, OpenFix no);
    bool asking() const { return asking_; }

private:
    void refresh();

    class LampLight;
    Session& session_;
    LampLight* lamp_;
    QLabel* words_;
    QPushButton* fix_;
    QPushButton* other_;
    QLabel* figures_;
    void answer(const std::function<void()>& action);

    std::function<void()> action_;
    std::function<void()> otherAction_;
    bool asking_ = false;
    QTimer hold_; ///< while it runs, what was told stays
};

} // namespace ripple::app
