#pragma once

#include "app/benches/bench.h"
#include "app/benches/gather/likeness_page.h"
#include "app/charts/frame_chart.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace ripple::app {

/// What is in the source, what was found and what mends it; how much moves in each frame, and which frames
/// are alike.
class GatherBench : public Bench {
    Q_OBJECT
public:
    GatherBench(Session& session, Trigger trigger);
    QWidget* panel() override { return panel_; }
    QWidget* strip() override { return strip_; }
    void restyle() override;
    void showStrip(int page) override { strip_->show(page); }

private:
    void build();
    void refresh();
    void refreshChart();
    void showShapes();
    QWidget* buildHead();

    Session& session_;
    Trigger trigger_;
    PanelColumn* panel_;
    QWidget* head_ = nullptr;
    QLabel* name_ = nullptr;
    QLabel* facts_ = nullptr;
    QPushButton* shapes_ = nullptr;
    QVBoxLayout* top_;    ///< clips, UV sets, findings: made anew when they change
    QVBoxLayout* bottom_; ///< meshes
    StripTabs* strip_;
    FrameChart* chart_;
    LikenessPage* likeness_;
};

} // namespace ripple::app
