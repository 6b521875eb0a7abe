#include "app/benches/planned_bench.h"

#include "app/look/panel_parts.h"

namespace ripple::app {

PlannedBench::PlannedBench(const QString& name, const QString& words, const QString& nothingYet,
                           const QString& tab, const QString& stripWords)
    : panel_(new PanelColumn(name)),
      strip_(new StripTabs) {
    panel_->column()->addWidget(quietLabel(words));
    panel_->column()->addWidget(
        new Card(nothingYet, tr("This bench is not part of this version. The others work without it."), ""));
    panel_->column()->addStretch(1);
    strip_->add(tab, quietLabel(stripWords));
}

} // namespace ripple::app
