#include "app/benches/bake/bake_panel.h"

#include "app/benches/bake/cost_box.h"
#include "app/look/when_seen.h"

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
    auto* seen = new WhenSeen(this, [this] { refresh(); });
    connect(&session_, &Session::documentChanged, this, [seen](unsigned changes) {
        if (changes & (kRecipeChange | kSourceChange)) {
            seen->ask();
        }
    });
    connect(&session_, &Session::sourceLoaded, this, [seen] { seen->ask(); });
    connect(&session_, &Session::bakeFinished, this, [seen] { seen->ask(); });
    connect(&session_, &Session::ladderChanged, this, [this] { refreshSampling(); });
    connect(&session_.playhead(), &Playhead::clipsChanged, this, [seen] { seen->ask(); });
    refresh();
}

void BakePanel::editRecipe(const QString& what, const std::function<void(bake::Recipe&)>& change,
                           bool continuing) {
    session_.edit(
        what, [&](project::Document& d) { change(d.recipe); }, session_.gesture(continuing));
}

void BakePanel::refresh() {
    clips_->refresh();
    refreshSampling();
    refreshWindow();
    refreshLoop();
    refreshStore();
}

} // namespace ripple::app
