#pragma once

#include "app/charts/ladder_chart.h"
#include "app/look/number_field.h"
#include "app/session/session.h"

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
    void refreshTolerance();
    void setTolerance(double value, bool length, bool continuing);

    Session& session_;
    LadderChart* chart_;
    NumberField* tolerance_;
    QPushButton* other_; ///< the tolerance said the other way, which a click takes
    QLabel* words_;
    QPushButton* take_;
};

} // namespace ripple::app
