#pragma once

#include <QAbstractButton>

namespace ripple::app {

/// The dot before a number: filled where the number is a parameter, which the engine may change.
class ParameterDot : public QAbstractButton {
    Q_OBJECT
public:
    /// `of`: what the number is called.
    explicit ParameterDot(const QString& of, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {14, 22}; }

protected:
    void paintEvent(QPaintEvent* event) override;
};

} // namespace ripple::app
