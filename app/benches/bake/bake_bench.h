#pragma once

#include "app/benches/bake/bake_panel.h"
#include "app/benches/bench.h"
#include "app/charts/frame_chart.h"
#include "app/charts/texture_sheet.h"

namespace ripple::app {

/// How the deformation is stored, and what that costs.
class BakeBench : public Bench {
    Q_OBJECT
public:
    explicit BakeBench(Session& session);
    QWidget* panel() override { return panel_; }
    QWidget* strip() override { return strip_; }
    void restyle() override;

private:
    void refreshErrors();

    Session& session_;
    BakePanel* panel_;
    StripTabs* strip_;
    TextureSheet* positions_;
    TextureSheet* normals_;
    FrameChart* errors_;
};

} // namespace ripple::app
