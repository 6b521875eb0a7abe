#pragma once

#include <QAbstractButton>

namespace ripple::app {

/// A box with words that shows a tick when it is on.
class TickBox : public QAbstractButton {
    Q_OBJECT
public:
    explicit TickBox(const QString& words, QWidget* parent = nullptr);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;
};

} // namespace ripple::app
