#pragma once

#include "app/benches/bench.h"

namespace ripple::app {

/// Says what will be here: copies on a ground.
class ScatterBench : public Bench {
    Q_OBJECT
public:
    ScatterBench();
    QWidget* panel() override { return panel_; }
    QWidget* strip() override { return strip_; }

private:
    PanelColumn* panel_;
    StripTabs* strip_;
};

} // namespace ripple::app
