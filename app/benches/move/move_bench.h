#pragma once

#include "app/benches/bench.h"
#include "app/benches/move/parameters_page.h"
#include "app/benches/move/trace_page.h"
#include "app/benches/move/voice_card.h"
#include "app/benches/move/voice_details.h"
#include "app/look/segmented_choice.h"

#include <QPushButton>

namespace ripple::app {

/// Displacement as a score of voices: its cards in playing order, the numbers of the one that is worked on,
/// and the trace of the picked vertex.
class MoveBench : public Bench {
    Q_OBJECT
public:
    explicit MoveBench(Session& session);
    QWidget* panel() override { return panel_; }
    QWidget* strip() override { return strip_; }
    void restyle() override;
    void showStrip(int page) override { strip_->show(page); }

private:
    void refresh();
    void rebuildCards();
    void buildReady();
    void findLoop();
    void showBounds();
    void drop(unsigned id, int y);

    Session& session_;
    PanelColumn* panel_;
    StripTabs* strip_;
    TracePage* trace_;
    ParametersPage* parameters_;
    QLabel* words_;
    NumberField* loop_;
    QWidget* loopRow_;
    QPushButton* findLoop_;
    SegmentedChoice* play_;
    QWidget* playRow_;
    QLabel* bounds_;
    QVBoxLayout* cards_;
    std::vector<VoiceCard*> shown_;
    QPushButton* add_;
    VoiceDetails* details_;
    QLabel* readyLabel_;
    QVBoxLayout* ready_;
    QString readyFor_;
};

} // namespace ripple::app
