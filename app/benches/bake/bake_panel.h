#pragma once

#include "app/benches/bench.h"
#include "app/shell/number_field.h"
#include "app/shell/segmented_choice.h"

#include <QComboBox>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>

namespace ripple::app {

/// The bake bench's choices and what they cost.
class BakePanel : public PanelColumn {
    Q_OBJECT
public:
    explicit BakePanel(Session& session);

private:
    void buildWindow();
    void buildStore();
    void buildCosts();
    void refresh();
    void refreshClips();
    void refreshCosts();
    void refreshDisk();
    void editRecipe(const QString& text, const std::function<void(bake::Recipe&)>& change,
                    bool continuing = false);
    void setWindow(bool first, double value, bool continuing);
    void setClipChosen(const std::string& name, bool chosen);
    /// The recipe's clips, written out where it says "all".
    std::vector<bake::ClipChoice> explicitClips() const;
    std::string currentClip() const;

    Session& session_;
    QVBoxLayout* clips_;
    QLabel* windowLabel_;
    NumberField* first_;
    NumberField* last_;
    NumberField* step_;
    NumberField* fps_;
    QLabel* fpsLabel_;
    SegmentedChoice* store_;
    QLabel* storeAbout_;
    SegmentedChoice* content_;
    SegmentedChoice* normals_;
    QComboBox* width_;
    QProgressBar* progress_;
    QPushButton* cancel_;
    QWidget* busy_;
    QLabel* memory_;
    QLabel* memoryWords_;
    QLabel* error_;
    QLabel* errorWords_;
    QLabel* disk_;
    QLabel* worst_;
    QPushButton* goThere_;
    QLabel* problem_;
};

} // namespace ripple::app
