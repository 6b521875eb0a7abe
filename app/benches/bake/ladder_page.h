#pragma once

#include "app/charts/ladder_chart.h"
#include "app/shell/number_field.h"
#include "app/shell/session.h"

#include <QLabel>
#include <QPushButton>

namespace ripple::app {

/// The cost ladder with its tolerance and what is cheapest within it. Measured while it is seen.
class LadderPage : public QWidget {
    Q_OBJECT
public:
    explicit LadderPage(Session& session, QWidget* parent = nullptr);
    LadderChart* chart() const { return chart_; }
    void restyle() { chart_->restyle(); }

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void refresh();

    Session& session_;
    LadderChart* chart_;
    NumberField* tolerance_;
    QLabel* words_;
    QPushButton* take_;
};

} // namespace ripple::app
