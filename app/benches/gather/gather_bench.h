#pragma once

#include "app/benches/bench.h"
#include "app/charts/frame_chart.h"

#include <QLabel>

namespace ripple::app {

/// What is in the source, what was found, and how much moves in each frame.
class GatherBench : public Bench {
    Q_OBJECT
public:
    GatherBench(Session& session, Trigger trigger);
    QWidget* panel() override { return panel_; }
    QWidget* strip() override { return strip_; }
    void restyle() override;

private:
    void refresh();
    void refreshChart();
    void fillSource(QVBoxLayout* column);
    void fillFindings(QVBoxLayout* column);

    Session& session_;
    Trigger trigger_;
    PanelColumn* panel_;
    QVBoxLayout* content_;
    StripTabs* strip_;
    FrameChart* chart_;
};

} // namespace ripple::app
