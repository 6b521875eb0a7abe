#include "app/benches/move/move_bench.h"

#include "app/shell/panel_parts.h"

namespace ripple::app {

MoveBench::MoveBench() : panel_(new PanelColumn(tr("Move"))), strip_(new StripTabs) {
    panel_->column()->addWidget(
        quietLabel(tr("Displacement that is written rather than baked: wind, waves, swimming, wing beats. A "
                      "score of voices, each a small motion that goes round a whole number of times in the "
                      "loop, so that it always closes.")));
    panel_->column()->addWidget(
        new Card(tr("No voices in this version"),
                 tr("This bench is not built yet. Gather, Bake and Ship work without it."), ""));
    panel_->column()->addStretch(1);
    strip_->add(tr("Trace"), quietLabel(tr("The picked vertex's motion over two loops will be drawn here, "
                                           "voice by voice, with its seam marked.")));
}

} // namespace ripple::app
