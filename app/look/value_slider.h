#pragma once

#include <QWidget>

namespace ripple::app {

/// A number between two ends, dragged along a groove (Shift: fine), stepped with the arrow keys or the wheel;
/// Home and End go to the ends.
class ValueSlider : public QWidget {
    Q_OBJECT
public:
    explicit ValueSlider(QWidget* parent = nullptr);

    /// `whole`: takes whole numbers only.
    void setRange(double least, double most, bool whole);
    /// Shows a value without a signal.
    void setValue(double value);
    double value() const { return value_; }
    QSize sizeHint() const override { return {140, 22}; }

Q_SIGNALS:
    /// `continuing`: the same drag goes on, so it belongs to the same undo step.
    void edited(double value, bool continuing);

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    double groove() const;
    double placeOf(double value) const;
    double step() const;
    void take(double value, bool continuing);

    double least_ = 0.0;
    double most_ = 1.0;
    bool whole_ = false;
    double value_ = 0.0;
    bool dragging_ = false;
    bool dragged_ = false;
    double last_ = 0.0; ///< where the pointer was, pixels
    double at_ = 0.0;   ///< the value that the drag has come to, unrounded
};

} // namespace ripple::app
