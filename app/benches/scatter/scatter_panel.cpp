#include "app/benches/scatter/scatter_panel.h"

#include "app/look/panel_parts.h"
#include "app/look/when_seen.h"

namespace ripple::app {

ScatterPanel::ScatterPanel(Session& session) : PanelColumn(tr("Scatter")), session_(session) {
    column()->setSpacing(3);
    buildWhere();
    buildDifferent();
    buildPlays();
    buildTravel();
    buildWind();
    buildMerged();
    buildLevels();
    column()->addStretch(1);
    write_ = new QPushButton(tr("Write the copies…"));
    write_->setObjectName("writeCopies");
    write_->setToolTip(tr("One GLB that holds the mesh once and a place, turn and size for each copy, by the "
                          "extension EXT_mesh_gpu_instancing"));
    connect(write_, &QPushButton::clicked, this, &ScatterPanel::writeCopies);
    foot()->addWidget(write_);
    auto* seen = new WhenSeen(this, [this] { refresh(); });
    connect(&session_, &Session::documentChanged, this, [seen](unsigned changes) {
        if (changes & (kScatterChange | kSourceChange | kScoreChange | kRecipeChange)) {
            seen->ask();
        }
    });
    connect(&session_, &Session::sourceLoaded, this, [seen] { seen->ask(); });
    connect(&session_, &Session::scatterChanged, this, [seen] { seen->ask(); });
    connect(&session_.crowd(), &CrowdPlayer::ballMoved, this, [seen] { seen->ask(); });
    refresh();
}

void ScatterPanel::edit(const QString& what, const std::function<void(Choices&)>& change, bool continuing) {
    session_.edit(
        what, [&](project::Document& d) { change(d.scatter); }, session_.gesture(continuing));
}

NumberField* ScatterPanel::number(const char* name, double least, double most, int decimals, double step,
                                  const QString& unit, const QString& what,
                                  const std::function<double(const Choices&)>& get,
                                  const std::function<void(Choices&, double)>& set) {
    auto* field = new NumberField;
    field->setObjectName(name);
    field->setAccessibleName(what);
    field->setRange(least, most);
    field->setDecimals(decimals);
    field->setStep(step);
    field->setUnit(unit);
    field->setDefault(get(Choices()));
    field->setFixedWidth(92);
    connect(field, &NumberField::edited, this, [this, what, set](double v, bool more) {
        edit(
            what, [&](Choices& c) { set(c, v); }, more);
    });
    shown_.push_back({field, get});
    return field;
}

QWidget* ScatterPanel::row(const QString& label, QWidget* widget, const QString& tip) {
    QWidget* made = labelledRow(label, widget, tip);
    column()->addWidget(made);
    return made;
}

void ScatterPanel::refresh() {
    const Choices& choices = session_.document().scatter;
    for (const Shown& each : shown_) {
        each.field->setValue(each.value(choices));
    }
    refreshWhere();
    refreshDifferent();
    refreshPlays();
    refreshTravel();
    refreshWind();
    refreshMerged();
    refreshLevels();
    write_->setEnabled(session_.scatter() != nullptr);
}

} // namespace ripple::app
