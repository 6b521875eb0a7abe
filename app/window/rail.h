#pragma once

#include "app/session/bench_state.h"

#include <QWidget>

namespace ripple::app {

/// The five benches in the order of work, each with a lamp and a line of state.
class Rail : public QWidget {
    Q_OBJECT
public:
    explicit Rail(Session& session, QWidget* parent = nullptr);
    QRect stopBox(int bench) const;
    QSize sizeHint() const override { return {112, 500}; }

Q_SIGNALS:
    void chosen(int bench);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    void refresh();
    int stopAt(const QPoint& at) const;

    Session& session_;
    std::array<BenchState, kBenchCount> states_;
    int current_ = -1;
    int hover_ = -1;
};

/// Draws a lamp: ring and sign, so that colour is never the only difference.
void paintLamp(QPainter& painter, const QPointF& centre, double radius, Lamp lamp);

} // namespace ripple::app
