// What a bake may lose and does lose, and the cost ladder, which is made while it is seen.

#include "app/session/session.h"

namespace ripple::app {

namespace {

/// The part of a recipe that a ladder does not vary.
bake::Recipe fixedPart(bake::Recipe recipe) {
    const bake::Recipe plain;
    recipe.kind = plain.kind;
    recipe.shapes = plain.shapes;
    recipe.content = plain.content;
    recipe.positionStore = plain.positionStore;
    recipe.step = plain.step;
    recipe.thin = plain.thin;
    return recipe;
}

} // namespace

double Session::tolerance() const {
    return document_.tolerance.metres(size_);
}

void Session::showWorst() {
    if (!bake_) {
        return;
    }
    const bake::ErrorReport& error = bake_->error;
    const auto& clips = playhead_.clips();
    for (std::size_t c = 0; c < clips.size(); ++c) {
        if (clips[c].name == error.worstClip) {
            playhead_.setClipIndex(static_cast<int>(c));
        }
    }
    playhead_.setPlaying(false);
    playhead_.setFrame(error.worstFrame);
    pickVertex(static_cast<int>(error.worstVertex));
    showVertex(static_cast<int>(error.worstVertex));
}

void Session::wantLadder(bool wanted) {
    ladderWanted_ = wanted;
    if (wanted) {
        startLadder();
    } else {
        ladderJob_.cancel();
    }
}

void Session::startLadder() {
    if (!ladderWanted_ || !source_ || !bake_ || bakeJob_.running()) {
        return; // the next bake starts it
    }
    const bake::Recipe recipe = fixedPart(fittingRecipe());
    const bool same = ladderRecipe_ && *ladderRecipe_ == recipe;
    if (same && (ladderJob_.running() || (ladder_ && ladder_->complete()))) {
        return;
    }
    ladderRecipe_ = recipe;
    ladder_.reset();
    using Result = std::shared_ptr<const bake::Ladder>;
    ladderJob_.start<Result>(
        [this, source = source_, state = bake_, recipe](base::Progress& progress) -> Result {
            const bake::EarlierPoses known{&state->plan, state->frames.get()};
            const auto tell = [&](Result part) {
                QMetaObject::invokeMethod(
                    this,
                    [this, source, recipe, part] {
                        if (source_ == source && ladderRecipe_ == recipe && ladderJob_.running()) {
                            ladder_ = part;
                            Q_EMIT ladderChanged();
                        }
                    },
                    Qt::QueuedConnection);
            };
            return bake::climbLadder(*source, recipe, {}, progress, tell, known);
        },
        [this](Result ladder) {
            ladder_ = std::move(ladder);
            Q_EMIT ladderChanged();
        },
        [this](base::Problem) {
            ladder_.reset(); // the bake says what is wrong
            Q_EMIT ladderChanged();
        });
    Q_EMIT ladderChanged();
}

void Session::takeRung(const bake::Rung& rung) {
    edit(tr("Store as %1").arg(QString::fromStdString(rung.label())), [&](project::Document& d) {
        bake::Recipe& recipe = d.recipe;
        recipe.kind = rung.recipe.kind;
        recipe.shapes = rung.recipe.shapes;
        recipe.content = rung.recipe.content;
        recipe.positionStore = rung.recipe.positionStore;
        recipe.step = rung.recipe.step;
        recipe.thin = rung.recipe.thin;
        recipe.normalsInAlpha = rung.recipe.normalsInAlpha;
    });
}

} // namespace ripple::app
