#pragma once

#include <QLineEdit>

namespace ripple::app {

/// A number in a box: typed, in its own unit or one that measures the same ("12 mm" into centimetres),
/// dragged sideways (Shift: fine, Control: coarse), stepped with the arrow keys or the wheel. A double click
/// on it selects; Escape gives back what was there; the context menu resets.
class NumberField : public QLineEdit {
    Q_OBJECT
public:
    explicit NumberField(QWidget* parent = nullptr);

    void setRange(double low, double high);
    void setDecimals(int decimals);
    /// `one`: what the unit is called for a single one, as "turn".
    void setUnit(const QString& unit, const QString& one = {});
    /// A unit that means another choice, as "%" where the field has centimetres. What is typed in it, or in
    /// one that measures the same, comes as editedIn().
    void setOtherUnit(const QString& unit);
    /// Without its unit where that stands elsewhere.
    void setUnitShown(bool shown);
    /// Takes whole numbers only; what is typed between two is refused in these words, with %1 for it and %2
    /// and %3 for the two.
    void setWhole(const QString& words);
    /// A letter at its left, as "X".
    void setMark(const QString& mark);
    /// What a key, a turn of the wheel or six pixels of a drag make; 1 unless set.
    void setStep(double step);
    /// Value that "reset" gives, and what to show in its stead where it means something in words.
    void setDefault(double value, const QString& words = {});
    /// Shows a value without a signal.
    void setValue(double value);
    double value() const { return value_; }

Q_SIGNALS:
    /// `continuing`: the same drag goes on, so it belongs to the same undo step.
    void edited(double value, bool continuing);
    void editedIn(double value); ///< in the other unit

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    void take(double value, bool continuing);
    void takeText();
    void takeTyped(double value);
    void refuse(const QString& typed);
    void explain(const QString& words);
    void refresh();
    /// As the field writes a value, with its unit or without.
    QString shownText(double value, bool unit) const;

    double low_ = 0.0;
    double high_ = 1e9;
    int decimals_ = 0;
    double value_ = 0.0;
    double default_ = 0.0;
    QString defaultWords_;
    QString unit_;
    QString one_;
    QString otherUnit_;
    bool unitShown_ = true;
    QString mark_;
    QString wholeWords_;
    double step_ = 1.0;
    bool dragging_ = false;
    bool dragged_ = false;
    double dragFrom_ = 0.0;
    QPoint dragStart_;
};

} // namespace ripple::app
