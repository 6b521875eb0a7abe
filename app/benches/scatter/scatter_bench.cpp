#include "app/benches/scatter/scatter_bench.h"

#include "app/shell/panel_parts.h"

namespace ripple::app {

ScatterBench::ScatterBench() : panel_(new PanelColumn(tr("Scatter"))), strip_(new StripTabs) {
    panel_->column()->addWidget(
        quietLabel(tr("Copies of the asset on a ground, each at its own phase: whether a hundred of them "
                      "look like a crowd or like a chorus line, and what they cost to draw.")));
    panel_->column()->addWidget(
        new Card(tr("No copies in this version"),
                 tr("This bench is not built yet. Gather, Bake and Ship work without it."), ""));
    panel_->column()->addStretch(1);
    strip_->add(
        tr("Frame time"),
        quietLabel(tr(
            "Frame time against the number of copies will be drawn here: baked texture against skinning.")));
}

} // namespace ripple::app
