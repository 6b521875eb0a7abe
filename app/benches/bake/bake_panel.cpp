#include "app/benches/bake/bake_panel.h"

#include "app/benches/bake/cost_box.h"

namespace ripple::app {

BakePanel::BakePanel(Session& session) : PanelColumn(tr("Bake")), session_(session) {
    column()->setSpacing(3);
    buildKind();
    buildWindow();
    buildLoop();
    buildStore();
    buildTexture();
    column()->addStretch(1);
    foot()->addWidget(new CostBox(session));
    connect(&session_, &Session::documentChanged, this, [this](unsigned changes) {
        if (changes & (kRecipeChange | kSourceChange)) {
            refresh();
        }
    });
    connect(&session_, &Session::sourceLoaded, this, &BakePanel::refresh);
    connect(&session_, &Session::bakeFinished, this, &BakePanel::refresh);
    connect(&session_.playhead(), &Playhead::clipsChanged, this, &BakePanel::refresh);
    refresh();
}

void BakePanel::editRecipe(const QString& what, const std::function<void(bake::Recipe&)>& change,
                           bool continuing) {
    session_.edit(
        what, [&](project::Document& d) { change(d.recipe); }, session_.gesture(continuing));
}

void BakePanel::refresh() {
    refreshClips();
    refreshWindow();
    refreshLoop();
    refreshStore();
}

} // namespace ripple::app
