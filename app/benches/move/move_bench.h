#pragma once

#include "app/benches/bench.h"

namespace ripple::app {

/// Says what will be here: displacement as a score of voices.
class MoveBench : public Bench {
    Q_OBJECT
public:
    MoveBench();
    QWidget* panel() override { return panel_; }
    QWidget* strip() override { return strip_; }

private:
    PanelColumn* panel_;
    StripTabs* strip_;
};

} // namespace ripple::app
