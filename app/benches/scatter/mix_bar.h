#pragma once

#include <QColor>
#include <QWidget>

#include <vector>

namespace ripple::app {

/// How often each of some things is chosen, as one bar in parts. The borders between parts are dragged;
/// focused, Left and Right choose a border and Up and Down move it, Shift finely.
class MixBar : public QWidget {
    Q_OBJECT
public:
    struct Part {
        QString name;
        double weight = 1.0; ///< 0 and more
        QColor tone;
        bool operator==(const Part&) const = default;
    };
    explicit MixBar(QWidget* parent = nullptr);

    /// Shows parts without a signal.
    void setParts(std::vector<Part> parts);
    const std::vector<Part>& parts() const { return parts_; }
    /// Where the border behind a part is taken hold of.
    QPointF borderAt(std::size_t part) const;
    QSize sizeHint() const override { return {300, 30}; }
    QSize minimumSizeHint() const override { return {120, 30}; }

Q_SIGNALS:
    /// Weights of two neighbours, as parts of 1 of all. `continuing`: the same drag goes on.
    void edited(const std::vector<double>& weights, bool continuing);

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    double sum() const;
    double shareBefore(std::size_t part) const; ///< 0..1
    int borderUnder(double x) const;            ///< −1: none
    void moveBorder(std::size_t border, double to, bool continuing);
    void describe();

    std::vector<Part> parts_;
    int held_ = -1;
    bool dragged_ = false;
    std::size_t chosen_ = 0; ///< border that keys move
};

} // namespace ripple::app
