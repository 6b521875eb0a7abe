#pragma once

#include "app/charts/axes_drawing.h"
#include "app/look/segmented_choice.h"
#include "app/session/session.h"

#include <QLabel>
#include <QWidget>

namespace ripple::app {

/// Whom the bundle is written for, with its axes drawn, and whether a page goes with it.
class TargetPart : public QWidget {
    Q_OBJECT
public:
    explicit TargetPart(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void choose();

    Session& session_;
    QLabel* title_;
    AxesDrawing* drawing_;
    SegmentedChoice* page_;
};

} // namespace ripple::app
