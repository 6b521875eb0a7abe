#pragma once

#include "app/charts/cost_chart.h"
#include "app/session/session.h"
#include "app/stage/cost_meter.h"

#include <QLabel>
#include <QPushButton>

namespace ripple::app {

/// What a crowd costs to draw, measured here when it is asked for.
class CrowdCostPage : public QWidget {
    Q_OBJECT
public:
    explicit CrowdCostPage(Session& session, QWidget* parent = nullptr);
    void restyle() { chart_->restyle(); }
    /// Begins, or stops.
    void measure();
    bool measuring() const { return job_.running(); }
    const std::shared_ptr<const CostReport>& report() const { return report_; }

private:
    void take(const CostReport& report);
    void refresh();

    Session& session_;
    CostChart* chart_;
    QLabel* words_;
    QPushButton* button_;
    std::shared_ptr<const CostReport> report_;
    std::weak_ptr<const source::FrameSource> of_; ///< whose report it is
    LatestJob job_;
};

} // namespace ripple::app
