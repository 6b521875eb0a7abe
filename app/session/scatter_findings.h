#pragma once

#include "app/session/bench_state.h"

namespace ripple::app {

/// What is open on the Scatter bench, behind what is found already.
void addScatterFindings(Session& session, std::vector<OpenFinding>& all);

} // namespace ripple::app
