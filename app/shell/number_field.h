#pragma once

#include <QLineEdit>

namespace ripple::app {

/// A number in a box: typed (its unit may be typed too), dragged sideways (Shift: fine, Control: coarse),
/// stepped with the arrow keys or the wheel. A double click on it selects; Escape gives back what was there;
/// the context menu resets.
class NumberField : public QLineEdit {
    Q_OBJECT
public:
    explicit NumberField(QWidget* parent = nullptr);

    void setRange(double low, double high);
    void setDecimals(int decimals);
    void setUnit(const QString& unit);
    /// Value that "reset" gives, and what to show in its stead where it means something in words.
    void setDefault(double value, const QString& words = {});
    /// Shows a value without a signal.
    void setValue(double value);
    double value() const { return value_; }

Q_SIGNALS:
    /// `continuing`: the same drag goes on, so it belongs to the same undo step.
    void edited(double value, bool continuing);

protected:
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    void take(double value, bool continuing);
    void takeText();
    void refresh();

    double low_ = 0.0;
    double high_ = 1e9;
    int decimals_ = 0;
    double value_ = 0.0;
    double default_ = 0.0;
    QString defaultWords_;
    QString unit_;
    bool dragging_ = false;
    bool dragged_ = false;
    double dragFrom_ = 0.0;
    QPoint dragStart_;
};

} // namespace ripple::app
