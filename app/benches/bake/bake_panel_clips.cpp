// The bake panel's clips and windows.

#include "app/benches/bake/bake_panel.h"

#include "app/benches/bake/row_index.h"
#include "app/shell/panel_parts.h"
#include "app/shell/tick_box.h"
#include "app/shell/words.h"
#include "base/units.h"

#include <QHBoxLayout>

#include <algorithm>

namespace ripple::app {

std::string BakePanel::currentClip() const {
    if (const bake::BakedClip* clip = session_.playhead().clip()) {
        return clip->name;
    }
    const auto source = session_.source();
    return source ? source->clips()[0].name : "";
}

std::vector<bake::ClipChoice> BakePanel::explicitClips() const {
    std::vector<bake::ClipChoice> clips = session_.document().recipe.clips;
    if (clips.empty() && session_.source()) {
        for (const source::Clip& clip : session_.source()->clips()) {
            clips.push_back({clip.name, std::nullopt});
        }
    }
    return clips;
}

void BakePanel::setWindow(bool first, double value, bool continuing) {
    const auto source = session_.source();
    if (!source) {
        return;
    }
    const std::string name = currentClip();
    std::vector<bake::ClipChoice> clips = explicitClips();
    for (bake::ClipChoice& choice : clips) {
        if (choice.name != name) {
            continue;
        }
        const auto index = static_cast<std::size_t>(rowIndex(source->clips(), name));
        const std::size_t count = bake::measureClip(*source, index, session_.document().recipe).frames;
        bake::FrameWindow window = choice.window.value_or(bake::FrameWindow{0, count - 1});
        const auto at = std::min(static_cast<std::size_t>(std::max(0.0, value)), count - 1);
        (first ? window.first : window.last) = at;
        if (window.first > window.last) {
            (first ? window.last : window.first) = at;
        }
        const bool whole = window.first == 0 && window.last + 1 == count;
        choice.window = whole ? std::nullopt : std::optional(window);
    }
    editRecipe(
        tr("Window"), [&](bake::Recipe& r) { r.clips = clips; }, continuing);
}

void BakePanel::setClipChosen(const std::string& name, bool chosen) {
    const auto source = session_.source();
    const std::vector<bake::ClipChoice> had = explicitClips();
    std::vector<bake::ClipChoice> clips;
    for (const source::Clip& clip : source->clips()) { // kept in the source's order
        const auto old =
            std::find_if(had.begin(), had.end(), [&](const auto& c) { return c.name == clip.name; });
        if (clip.name == name ? chosen : old != had.end()) {
            clips.push_back(old != had.end() ? *old : bake::ClipChoice{clip.name, std::nullopt});
        }
    }
    if (clips.empty()) {
        return refresh(); // the last one stays
    }
    editRecipe(chosen ? tr("Take %1").arg(text(name)) : tr("Leave out %1").arg(text(name)),
               [&](bake::Recipe& r) { r.clips = clips; });
}

void BakePanel::refreshClips() {
    emptyLayout(clips_);
    const auto source = session_.source();
    if (!source || source->clips().size() < 2) {
        return;
    }
    const std::vector<bake::ClipChoice> chosen = explicitClips();
    for (const source::Clip& clip : source->clips()) {
        auto* box = new TickBox(text(clip.name));
        box->setObjectName("clip " + text(clip.name));
        box->setChecked(
            std::any_of(chosen.begin(), chosen.end(), [&](const auto& c) { return c.name == clip.name; }));
        connect(box, &QAbstractButton::clicked, this,
                [this, name = clip.name](bool on) { setClipChosen(name, on); });
        auto* row = new QWidget;
        auto* line = new QHBoxLayout(row);
        line->setContentsMargins(0, 0, 0, 0);
        line->addWidget(box, 1);
        QString facts = text(base::secondsText(clip.duration));
        if (const auto bake = session_.bake()) {
            for (const bake::BakedClip& baked : bake->baked.textures.clips) {
                if (baked.name == clip.name) {
                    facts =
                        text(base::plural(baked.frames, "frame")) + (baked.closed ? ", closed" : ", open");
                }
            }
        }
        auto* words = quietLabel(facts);
        words->setWordWrap(false);
        line->addWidget(words);
        clips_->addWidget(row);
    }
}

} // namespace ripple::app
