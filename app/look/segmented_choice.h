#pragma once

#include <QButtonGroup>
#include <QStringList>
#include <QWidget>

namespace ripple::app {

/// A row of joined buttons of which one is chosen.
class SegmentedChoice : public QWidget {
    Q_OBJECT
public:
    explicit SegmentedChoice(const QStringList& labels, QWidget* parent = nullptr);
    int chosen() const { return group_.checkedId(); }
    /// Shows a choice without a signal.
    void show(int index);
    void setToolTips(const QStringList& tips);
    /// Leaves room beside the words: for a row that is not as wide as its place.
    void setRoomy();

Q_SIGNALS:
    void picked(int index);

private:
    QButtonGroup group_;
};

} // namespace ripple::app
