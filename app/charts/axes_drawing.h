#pragma once

#include "bundle/target.h"

#include <QWidget>

namespace ripple::app {

/// glTF's axes, and beside them those of a target as they lie in the same world.
class AxesDrawing : public QWidget {
    Q_OBJECT
public:
    explicit AxesDrawing(QWidget* parent = nullptr);
    void setTarget(const bundle::Target& target);
    QSize sizeHint() const override;

    /// Where the end of a target's axis (0..2) is drawn from its origin, both in pixels, y down; for tests.
    QPointF wayOf(std::size_t axis) const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    bundle::Target target_;
};

} // namespace ripple::app
