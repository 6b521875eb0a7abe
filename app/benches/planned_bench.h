#pragma once

#include "app/benches/bench.h"

namespace ripple::app {

/// A bench that is not built yet: says what will be there, so that nobody looks for it elsewhere.
class PlannedBench : public Bench {
    Q_OBJECT
public:
    /// `tab` and `stripWords` speak of the graph that its strip will show.
    PlannedBench(const QString& name, const QString& words, const QString& nothingYet, const QString& tab,
                 const QString& stripWords);
    QWidget* panel() override { return panel_; }
    QWidget* strip() override { return strip_; }

private:
    PanelColumn* panel_;
    StripTabs* strip_;
};

} // namespace ripple::app
