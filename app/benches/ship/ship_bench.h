#pragma once

#include "app/benches/bench.h"
#include "app/benches/ship/code_page.h"
#include "app/benches/ship/cost_page.h"
#include "app/look/segmented_choice.h"
#include "app/benches/ship/target_part.h"
#include "app/look/tick_box.h"

#include <QLabel>
#include <QLineEdit>
#include <QProgressBar>
#include <QPushButton>

namespace ripple::app {

/// What is written, how large, what the importer must do; writing it; the check's report.
class ShipBench : public Bench {
    Q_OBJECT
public:
    ShipBench(Session& session, Trigger trigger);
    QWidget* panel() override { return panel_; }
    QWidget* strip() override { return strip_; }
    void restyle() override;
    void showStrip(int page) override { strip_->show(page); }

private:
    void buildPanel();
    void buildChoices(QVBoxLayout* column);
    void refreshChoices();
    void addScoreFacts(const bundle::ScoreManifest& manifest);
    void refresh();
    void refreshFiles();
    void refreshCheck();

    Session& session_;
    Trigger trigger_;
    PanelColumn* panel_;
    StripTabs* strip_;
    QLineEdit* name_;
    QPushButton* folder_;
    QVBoxLayout* files_;
    QPushButton* write_;
    QWidget* busy_;
    QProgressBar* progress_;
    QLabel* result_;
    QPushButton* openPage_;
    QLabel* settingsTitle_;
    QVBoxLayout* settings_;
    CodePage* code_;
    CostPage* cost_;
    SegmentedChoice* what_;
    TickBox* exactSine_;
    TickBox* storeMasks_;
    TickBox* half_;
    TickBox* testRow_;
    TargetPart* target_;
    QWidget* check_;
    QVBoxLayout* checkColumn_;
};

} // namespace ripple::app
