#include "app/session/computed.h"

namespace ripple::app {

Computed::Computed(Computed* above) {
    if (above) {
        above->below_.push_back(this);
    }
}

void Computed::stop() {
    for (LatestJob* job : jobs()) {
        job->cancel();
    }
    stopBelow();
}

void Computed::stopBelow() {
    for (Computed* stage : below_) {
        stage->stop();
    }
}

void Computed::drop() {
    stop(); // of all, while what they were computed from is still there for those who look at it
    clearAll();
}

void Computed::clearAll() {
    clear();
    for (Computed* stage : below_) {
        stage->clearAll();
    }
}

void Computed::outdateBelow() {
    stopBelow();
    outdateAll();
}

void Computed::outdateAll() {
    for (Computed* stage : below_) {
        stage->outdate();
        stage->outdateAll();
    }
}

} // namespace ripple::app
