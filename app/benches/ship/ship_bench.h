#pragma once

#include "app/benches/bench.h"

#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
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

private:
    void buildPanel();
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
    QVBoxLayout* settings_;
    QPlainTextEdit* code_;
    QWidget* check_;
    QVBoxLayout* checkColumn_;
};

} // namespace ripple::app
