#pragma once

#include "app/benches/bake/bake_panel.h"
#include "app/benches/bake/errors_page.h"
#include "app/benches/bake/ladder_page.h"
#include "app/benches/bake/sheet_page.h"
#include "app/benches/bake/states_page.h"
#include "app/benches/bench.h"

namespace ripple::app {

/// How the motion is stored, what that costs and what it loses.
class BakeBench : public Bench {
    Q_OBJECT
public:
    explicit BakeBench(Session& session);
    QWidget* panel() override { return panel_; }
    QWidget* strip() override { return strip_; }
    void restyle() override;
    void showStrip(int page) override { strip_->show(page); }

private:
    BakePanel* panel_;
    StripTabs* strip_;
    LadderPage* ladder_;
    SheetPage* sheet_;
    ErrorsPage* errors_;
    StatesPage* states_;
};

} // namespace ripple::app
