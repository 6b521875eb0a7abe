#pragma once

#include "app/benches/bench.h"
#include "app/benches/scatter/mix_bar.h"
#include "app/look/number_field.h"
#include "app/look/segmented_choice.h"
#include "app/look/tick_box.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>

namespace ripple::app {

/// The scatter bench's choices, in the order of the questions: how many and where, how different, what each
/// plays, does it travel, what pushes it, merged or separate, levels of detail.
class ScatterPanel : public PanelColumn {
    Q_OBJECT
public:
    explicit ScatterPanel(Session& session);

private:
    using Choices = scatter::Choices;

    // scatter_panel.cpp
    void refresh();
    void edit(const QString& text, const std::function<void(Choices&)>& change, bool continuing = false);
    /// A field and what it shows; it is filled at each refresh.
    struct Shown {
        NumberField* field;
        std::function<double(const Choices&)> value;
    };
    NumberField* number(const char* name, double least, double most, int decimals, double step,
                        const QString& unit, const QString& text,
                        const std::function<double(const Choices&)>& get,
                        const std::function<void(Choices&, double)>& set);
    QWidget* row(const QString& label, QWidget* widget, const QString& tip = {});
    // scatter_panel_where.cpp
    void buildWhere();
    void refreshWhere();
    void chooseGround(int index);
    void buildDifferent();
    void refreshDifferent();
    void chooseTint(int which);
    void addImages();
    // scatter_panel_plays.cpp
    void buildPlays();
    void refreshPlays();
    void buildTravel();
    void refreshTravel();
    QString feetWords() const;
    // scatter_panel_drawn.cpp
    void buildWind();
    void refreshWind();
    void buildMerged();
    void refreshMerged();
    void buildLevels();
    void refreshLevels();
    void writeCopies();

    Session& session_;
    std::vector<Shown> shown_;
    SegmentedChoice* pattern_;
    QWidget* heightRow_;
    QComboBox* ground_;
    QWidget* alongRow_;
    TickBox* along_;
    QLabel* spacing_;
    std::array<QPushButton*, 2> tints_{};
    QLabel* images_;
    QPushButton* addImages_;
    QPushButton* dropImages_;
    QWidget* playsRow_;
    SegmentedChoice* plays_;
    MixBar* mix_;
    QLabel* mixWords_;
    QWidget* fadeRow_;
    SegmentedChoice* travel_;
    QWidget* speedRow_;
    NumberField* speed_;
    QWidget* fastestRow_;
    NumberField* fastest_;
    QWidget* facingRow_;
    NumberField* facing_;
    QLabel* feet_;
    QPushButton* noSlide_;
    QLabel* windLabel_;
    QWidget* windRow_;
    NumberField* wind_;
    TickBox* ball_;
    QLabel* ballWords_;
    QWidget* ballRows_;
    NumberField* ballX_;
    NumberField* ballZ_;
    TickBox* merged_;
    QWidget* keepsRow_;
    QComboBox* keeps_;
    QLabel* mergedWords_;
    SegmentedChoice* levels_;
    QWidget* levelRows_;
    QLabel* levelWords_;
    QPushButton* write_;
};

} // namespace ripple::app
