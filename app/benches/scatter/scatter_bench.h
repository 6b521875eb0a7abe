#pragma once

#include "app/benches/bench.h"
#include "app/benches/scatter/crowd_cost_page.h"
#include "app/benches/scatter/crowd_states_page.h"
#include "app/benches/scatter/scatter_panel.h"

namespace ripple::app {

/// Copies of the asset on a ground: different, moving, merged, and what they cost.
class ScatterBench : public Bench {
    Q_OBJECT
public:
    explicit ScatterBench(Session& session);
    QWidget* panel() override { return panel_; }
    QWidget* strip() override { return strip_; }
    void restyle() override { cost_->restyle(); }
    void showStrip(int page) override { strip_->show(page); }
    CrowdCostPage* cost() const { return cost_; }

private:
    ScatterPanel* panel_;
    StripTabs* strip_;
    CrowdCostPage* cost_;
    CrowdStatesPage* states_;
};

} // namespace ripple::app
