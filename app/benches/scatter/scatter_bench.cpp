#include "app/benches/scatter/scatter_bench.h"

#include "app/session/bench_state.h"

namespace ripple::app {

ScatterBench::ScatterBench(Session& session)
    : panel_(new ScatterPanel(session)),
      strip_(new StripTabs),
      cost_(new CrowdCostPage(session)),
      states_(new CrowdStatesPage(session)) {
    strip_->add(tr("States"), states_);
    strip_->add(tr("Cost"), cost_);
    connect(&session, &Session::documentChanged, this, [&session](unsigned changes) {
        if (changes & kViewChange) {
            session.wantScatter(benchOf(session.document().view).copies);
        }
    });
}

} // namespace ripple::app
