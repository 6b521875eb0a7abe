#pragma once

#include "app/jobs/latest_job.h"

#include <QObject>

#include <vector>

namespace ripple::app {

/// One stage of what a session computes, from the document and from the stage above it: source → performance
/// → {survey, bake → {ladder, shipment}}. A stage owns its work, its result and its problem. When one above
/// it has another result, it is told here, and nowhere else.
class Computed : public QObject {
    Q_OBJECT
public:
    explicit Computed(Computed* above = nullptr);

    /// What this stage and all below it computed is of something that is no more: results go, work stops.
    void drop();
    /// What the stages below were computed from is another now. Work stops; what can still be looked at stays
    /// until there is a newer one.
    void outdateBelow();
    /// Work that is of no use once what is above is another.
    virtual std::vector<LatestJob*> jobs() = 0;

protected:
    /// Forgets results and problems; work is stopped already.
    virtual void clear() = 0;
    /// Forgets what does not fit what is above any more.
    virtual void outdate() = 0;

private:
    void stop();
    void stopBelow();
    void clearAll();
    void outdateAll();

    std::vector<Computed*> below_;
};

} // namespace ripple::app
