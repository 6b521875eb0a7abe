#pragma once

#include "app/session/session.h"

#include <QColor>
#include <QFrame>
#include <QLabel>
#include <QToolButton>

namespace ripple::app {

/// One turn of a voice's shape, drawn small.
class MiniWave : public QWidget {
    Q_OBJECT
public:
    explicit MiniWave(QWidget* parent = nullptr);
    /// Shape over the loop at i / n, −1..1.
    void setWave(std::vector<float> values, const QColor& colour);
    void setTurn(double turn);
    QSize sizeHint() const override { return {74, 22}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<float> values_;
    QColor colour_;
    double turn_ = 0.0;
};

/// A voice as a sentence whose words can be changed where they stand; its wave; solo and mute. A click
/// chooses it, a drag moves it.
class VoiceCard : public QFrame {
    Q_OBJECT
public:
    VoiceCard(Session& session, unsigned id, QWidget* parent = nullptr);
    unsigned id() const { return id_; }
    /// After a change of the voice.
    void refresh();
    /// Opens the choices of one part: "course", "shape", "push", "mask".
    void choose(const QString& part);

Q_SIGNALS:
    /// Dropped with its middle at `y` of the parent.
    void dropped(unsigned id, int y);
    /// A word of the sentence was taken.
    void wordTaken(const QString& word);

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    Session& session_;
    /// What is seen at present.
    struct Shown {
        motion::Voice voice;
        QColor colour;
        bool heard = true;
        bool chosen = false;
        bool operator==(const Shown&) const = default;
    };
    std::optional<Shown> shown_;
    unsigned id_;
    QLabel* name_;
    QLabel* sentence_;
    QToolButton* solo_;
    QToolButton* mute_;
    MiniWave* wave_;
    QPoint grabbed_;
    bool dragging_ = false;
    bool pressed_ = false;
};

} // namespace ripple::app
