#pragma once

#include <QColor>
#include <QWidget>

#include <vector>

namespace ripple::app {

/// One turn of a drawn curve, to be drawn by hand: a point is dragged up and down; a stroke elsewhere sets
/// every point that it passes. It goes round, so that the end always meets the start. With the keyboard: left
/// and right choose a point, up and down move it (Shift: fine).
class CurveEditor : public QWidget {
    Q_OBJECT
public:
    explicit CurveEditor(QWidget* parent = nullptr);
    /// At i / size of a turn, −1..1; at least three.
    void setCurve(std::vector<float> values, const QColor& colour);
    const std::vector<float>& curve() const { return values_; }
    void setTurn(double place);
    QSize sizeHint() const override { return {280, 124}; }
    /// Where a point is drawn.
    QPointF placeOf(std::size_t point) const;

Q_SIGNALS:
    /// `continuing`: the same stroke goes on.
    void edited(const std::vector<float>& values, bool continuing);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    QRectF plot() const;
    double yOf(float value) const;
    float valueAt(double y) const;
    std::size_t pointNear(double x) const;
    void stroke(const QPointF& from, const QPointF& to);
    void set(std::size_t point, float value);

    std::vector<float> values_;
    QColor colour_;
    double place_ = 0.0;
    std::size_t chosen_ = 0;
    bool held_ = false;  ///< one point is dragged
    bool drawn_ = false; ///< a stroke is drawn
    bool begun_ = false; ///< it has changed something
    QPointF last_;
};

} // namespace ripple::app
