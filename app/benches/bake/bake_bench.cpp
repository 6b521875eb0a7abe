#include "app/benches/bake/bake_bench.h"

namespace ripple::app {

BakeBench::BakeBench(Session& session)
    : panel_(new BakePanel(session)),
      strip_(new StripTabs),
      ladder_(new LadderPage(session)),
      sheet_(new SheetPage(session)),
      errors_(new ErrorsPage(session)),
      states_(new StatesPage(session)) {
    strip_->add(tr("Ladder"), ladder_);
    strip_->add(tr("Sheet"), sheet_);
    strip_->add(tr("Errors"), errors_);
    strip_->add(tr("States"), states_);
}

void BakeBench::restyle() {
    ladder_->restyle();
    errors_->restyle();
}

} // namespace ripple::app
