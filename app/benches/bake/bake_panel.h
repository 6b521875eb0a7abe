#pragma once

#include "app/benches/bake/clip_rows.h"
#include "app/benches/bench.h"
#include "app/look/number_field.h"
#include "app/look/segmented_choice.h"
#include "app/look/tick_box.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>

namespace ripple::app {

/// The bake bench's choices, and below them what they cost.
class BakePanel : public PanelColumn {
    Q_OBJECT
public:
    explicit BakePanel(Session& session);

private:
    // bake_panel.cpp
    void refresh();
    void editRecipe(const QString& text, const std::function<void(bake::Recipe&)>& change,
                    bool continuing = false);
    // bake_panel_clips.cpp: which clips, which frames
    void buildWindow();
    void refreshWindow();
    void refreshRange(std::size_t clip);
    void buildSampling();
    void refreshSampling();
    /// Clips of further files on the same mesh or skeleton.
    void addClipFiles();
    void setWindow(bool first, double value, bool continuing);
    /// The recipe's clips, written out where it says "all".
    std::string currentClip() const;
    std::size_t currentClipIndex() const;
    // bake_panel_loop.cpp: how the loop closes
    void buildLoop();
    void refreshLoop();
    void setClosing(bake::Closing closing);
    // bake_panel_store.cpp: how it is stored
    void buildKind();
    void buildJoints();
    void refreshJoints();
    void buildStore();
    void buildTexture();
    void refreshStore();

    Session& session_;
    SegmentedChoice* kind_;
    QWidget* shapesRow_;
    NumberField* shapes_;
    QWidget* jointRows_;
    SegmentedChoice* jointForm_;
    SegmentedChoice* influences_;
    SegmentedChoice* influencesIn_;
    QWidget* clipRateRow_;
    QLabel* clipRateLabel_;
    NumberField* clipRate_;
    QWidget* eachRow_;
    NumberField* each_;
    QWidget* blendRow_;
    SegmentedChoice* blend_;
    ClipRows* clips_;
    QPushButton* addClips_;
    QLabel* windowLabel_;
    NumberField* first_;
    NumberField* last_;
    NumberField* step_;
    NumberField* thin_;
    QWidget* rateRow_;
    NumberField* rate_;
    QLabel* fpsLabel_;
    NumberField* fps_;
    QLabel* loopLabel_;
    SegmentedChoice* closing_;
    QWidget* fadeRow_;
    NumberField* fade_;
    QLabel* seam_;
    SegmentedChoice* store_;
    SegmentedChoice* content_;
    QLabel* normalsLabel_;
    SegmentedChoice* normals_;
    TickBox* alpha_;
    TickBox* tangents_;
    TickBox* perClip_;
    TickBox* powerOfTwo_;
    TickBox* halfUvs_;
    QComboBox* width_;
};

} // namespace ripple::app
