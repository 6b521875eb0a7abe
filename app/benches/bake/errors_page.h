#pragma once

#include "app/charts/frame_chart.h"
#include "app/charts/step_chart.h"
#include "app/look/segmented_choice.h"
#include "app/session/session.h"

#include <QStackedWidget>

namespace ripple::app {

/// What the store loses: over the frames of the clip, in millimetres or degrees, and against the step.
class ErrorsPage : public QWidget {
    Q_OBJECT
public:
    explicit ErrorsPage(Session& session, QWidget* parent = nullptr);
    FrameChart* frames() const { return frames_; }
    StepChart* steps() const { return steps_; }
    void restyle();

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void refresh();
    void refreshFrames();
    void refreshSteps();

    Session& session_;
    SegmentedChoice* what_;
    QStackedWidget* charts_;
    FrameChart* frames_;
    StepChart* steps_;
};

} // namespace ripple::app
