// The bake panel's way to close the loop, and what its seam then shows.

#include "app/benches/bake/bake_panel.h"
#include "app/shell/closing_words.h"
#include "app/shell/panel_parts.h"
#include "app/shell/words.h"
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
    closing_ = new SegmentedChoice({tr("as it is"), tr("drop last"), tr("window"), tr("fade")});
    closing_->setObjectName("closing");
    closing_->setToolTips(
        {tr("Nothing is done: it plays once, unless it can be asked at any time and its ends meet"),
         tr("A last frame that repeats the first is not stored, and the clip closes"),
         tr("Play the kept frames round; the first choice is the stretch that loops best"),
         tr("Blend the last frames into those before the first: always closes")});
    column()->addWidget(closing_);
    fade_ = new NumberField;
    fade_->setObjectName("fadeFrames");
    fade_->setRange(1, 10000);
    fade_->setDefault(12);
    fade_->setFixedWidth(64);
    fadeRow_ = labelledRow(tr("Frames that are blended"), fade_,
                           tr("As many frames before the kept ones are used up"));
    column()->addWidget(fadeRow_);
    seam_ = quietLabel();
    seam_->setObjectName("seamWords");
    column()->addWidget(seam_);
    connect(closing_, &SegmentedChoice::picked, this, [this](int i) { setClosing(kWays[i]); });
    connect(fade_, &NumberField::edited, this, [this](double v, bool more) {
        editRecipe(
            tr("Fade over %1 frames").arg(v),
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
    const QStringList names = {tr("Leave the ends as they are"), tr("Drop the repeated frame"),
                               tr("Play the window round"), tr("Fade the end into the start")};
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
        seam_->setText(tr("Too few frames for a loop."));
        return;
    }
    const bool gap = seam.gap > seam.medianStep;
    const bool jolt = seam.velocityBreak > 2.0 * seam.medianBreak;
    const auto speed = [](double v) { return QString("%1 m/s").arg(v, 0, 'g', 2); };
    const QString how = clip.closed ? tr("Closed") : tr("Open, plays once");
    seam_->setText(tr("%1 (%2): gap %3, steps %4; jolt %5, elsewhere %6")
                       .arg(how, closingWords(bake->plan.clips[index]), text(base::lengthText(seam.gap)),
                            text(base::lengthText(seam.medianStep)), speed(seam.velocityBreak),
                            speed(seam.medianBreak)));
    setRole(seam_, clip.closed && !gap && !jolt ? "glass" : clip.closed || gap ? "brass" : "quiet");
}

} // namespace ripple::app
