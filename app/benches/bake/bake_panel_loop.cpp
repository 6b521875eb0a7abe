// The bake panel's way to close the loop, and what its seam then shows.

#include "app/benches/bake/bake_panel.h"
#include "app/look/closing_words.h"
#include "app/look/panel_parts.h"
#include "app/session/words.h"
#include "base/units.h"

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

constexpr bake::Closing kWays[] = {bake::Closing::asIs, bake::Closing::drop, bake::Closing::window,
                                   bake::Closing::fade};

} // namespace

void BakePanel::buildLoop() {
    loopLabel_ = sectionLabel(tr("Closing the loop"));
    column()->addWidget(loopLabel_);
    closing_ = new SegmentedChoice({tr("leave open"), tr("drop repeat"), tr("loop range"), tr("cross-fade")});
    closing_->setObjectName("closing");
    closing_->setToolTips(
        {tr("Nothing is changed: the clip plays once, unless its ends already meet"),
         tr("A last frame that repeats the first is not stored, so that the clip closes"),
         tr("Plays the frame range round; at first the range that loops best"),
         tr("Blends the last frames into those before the first, so that the clip always closes")});
    column()->addWidget(closing_);
    fade_ = new NumberField;
    fade_->setObjectName("fadeFrames");
    fade_->setRange(1, 10000);
    fade_->setDefault(12);
    fade_->setUnit(tr("frames"), tr("frame"));
    fade_->setFixedWidth(92);
    fadeRow_ = labelledRow(tr("Cross-fade length"), fade_,
                           tr("The same number of frames before the range is used for it"));
    column()->addWidget(fadeRow_);
    seam_ = quietLabel();
    seam_->setObjectName("seamWords");
    column()->addWidget(seam_);
    connect(closing_, &SegmentedChoice::picked, this, [this](int i) { setClosing(kWays[i]); });
    connect(fade_, &NumberField::edited, this, [this](double v, bool more) {
        editRecipe(
            tr("Cross-fade over %n frame(s)", nullptr, static_cast<int>(std::round(v))),
            [v](bake::Recipe& r) { r.fadeFrames = static_cast<std::size_t>(std::max(1.0, std::round(v))); },
            more);
    });
}

void BakePanel::setClosing(bake::Closing closing) {
    const auto source = session_.source();
    if (!source) {
        return;
    }
    const std::size_t clip = currentClipIndex();
    const QStringList names = {tr("Leave the clip open"), tr("Drop the repeated frame"),
                               tr("Play the frame range round"), tr("Cross-fade the end into the start")};
    editRecipe(names[static_cast<int>(closing)], [&](bake::Recipe& r) {
        const auto window = [&]() -> std::optional<bake::FrameWindow> {
            for (const bake::ClipChoice& choice : r.clips) {
                if (choice.name == source->clips()[clip].name) {
                    return choice.window;
                }
            }
            return std::nullopt;
        }();
        const auto survey = session_.survey();
        const bool best = survey && clip < survey->clips.size() && !survey->clips[clip].windows.empty();
        r.clips = bake::withClosing(*source, r, clip, closing);
        if (closing == bake::Closing::window && !window && best) {
            const inspect::LoopWindow& loop = survey->clips[clip].windows.front().window;
            r.clips = bake::withWindow(*source, r, clip, {loop.first, loop.last});
        }
        const bool closes = survey && clip < survey->clips.size() && survey->clips[clip].extent.closed;
        if (closing == bake::Closing::fade && window && window->first < r.fadeFrames && !closes) {
            // The fade needs frames before the start: begin that much later.
            r.clips =
                bake::withWindow(*source, r, clip, {r.fadeFrames, std::max(window->last, r.fadeFrames)});
        }
    });
}

void BakePanel::refreshLoop() {
    const bake::Recipe& recipe = session_.document().recipe;
    const auto source = session_.source();
    const bool several = source && source->clips().size() > 1;
    loopLabel_->setText(several ? tr("Closing the loop of %1").arg(text(currentClip()))
                                : tr("Closing the loop"));
    const bake::Closing closing = bake::closingOf(recipe, currentClip());
    closing_->show(static_cast<int>(closing));
    fadeRow_->setVisible(closing == bake::Closing::fade);
    fade_->setValue(static_cast<double>(recipe.fadeFrames));
    const auto bake = session_.bake();
    const auto index = static_cast<std::size_t>(session_.playhead().clipIndex());
    if (!bake || index >= bake->seams.size()) {
        seam_->clear();
        return;
    }
    const bake::BakedClip& clip = bake->baked.textures.clips[index];
    const bake::Seam& seam = bake->seams[index];
    if (clip.length() < 3) {
        setRole(seam_, "quiet");
        seam_->setText(tr("A loop needs at least three frames."));
        return;
    }
    const bool gap = seam.gap > seam.medianStep;
    const bool jolt = seam.velocityBreak > 2.0 * seam.medianBreak;
    const auto speed = [](double v) { return QString("%1 m/s").arg(v, 0, 'g', 2); };
    const QString how =
        clip.closed ? tr("Closed (%1).").arg(closingWords(bake->plan.clips[index])) : tr("Open, plays once.");
    seam_->setText(how + " " +
                   tr("Gap %1, steps %2; speed jump %3, elsewhere %4.")
                       .arg(text(base::lengthText(seam.gap)), text(base::lengthText(seam.medianStep)),
                            speed(seam.velocityBreak), speed(seam.medianBreak)));
    setRole(seam_, clip.closed && !gap && !jolt ? "glass" : clip.closed || gap ? "brass" : "quiet");
}

} // namespace ripple::app
