// What a session does with its source: taking it, reading it again, what is found in it, what is marked on
// it.

#include "app/session/session.h"

#include "bake/tolerance.h"
#include "project/fixes.h"

#include <algorithm>
#include <cmath>

namespace ripple::app {

const inspect::MeshFacts& Session::meshFacts() const {
    static const inspect::MeshFacts kNone;
    return source_.result() ? source_.result()->facts : kNone;
}

void Session::takeSource(bool again, const QStringList& changes) {
    forgetLooks();
    const bool current = performance_.takeOpened();
    takePlan();
    survey_.observe();
    Q_EMIT sourceLoaded();
    if (again) {
        project::Document next = document_;
        next.source.reading = source_.result()->reading;
        QStringList words = changes;
        for (const std::string& line : project::dropStaleChoices(next, *source())) {
            words << QString::fromStdString(line);
        }
        const bool readOtherwise = !(next.source == document_.source);
        edit(tr("The source changed"), [&](project::Document& d) { d = next; });
        Q_EMIT sourceReloaded(words);
        if (readOtherwise) {
            return; // that edit opens it once more, with what still applies
        }
    }
    if (!current) {
        performance_.play(); // the score is another than when opening began; all else follows
        return;
    }
    performance_.measure();
    survey_.start();
    startBake(false);
    scatter_.startIfWanted();
}

void Session::reloadSource() {
    if (document_.source.chosen() && !document_.source.shape) {
        source_.load(SourceStage::Load::again);
    }
}

double Session::tolerance() const {
    return document_.tolerance.metres(assetSize());
}

void Session::applyFix(const inspect::Fix& fix) {
    edit(QString::fromStdString(fix.label), [&](project::Document& d) { project::applyFix(d, fix); });
}

void Session::showObservation(const inspect::Observation& observation) {
    if (observation.place) {
        playhead_.setPlaying(false);
        goToClipFrame(observation.place->clip, static_cast<double>(observation.place->frame));
    }
    mark(observation.vertices);
    if (!observation.vertices.empty() && observation.vertices.size() < 200) {
        showVertex(static_cast<int>(observation.vertices.front()));
    }
}

double Session::clipFrame() const {
    const auto index = static_cast<std::size_t>(playhead_.clipIndex());
    if (!plan() || index >= plan()->clips.size()) {
        return 0.0;
    }
    return plan()->clips[index].firstFrame + playhead_.frame() * plan()->clips[index].frameStep;
}

void Session::goToClipFrame(std::size_t clip, double frame) {
    for (std::size_t c = 0; plan() && c < plan()->clips.size(); ++c) {
        const bake::ClipPlan& plan = this->plan()->clips[c];
        if (plan.clip == clip) {
            playhead_.setClipIndex(static_cast<int>(c));
            playhead_.setFrame(std::clamp((frame - plan.firstFrame) / plan.frameStep, 0.0,
                                          static_cast<double>(plan.length - 1)));
        }
    }
}

std::optional<Session::KeptWindow> Session::keptWindow() const {
    const auto index = static_cast<std::size_t>(playhead_.clipIndex());
    if (!source() || !plan() || index >= plan()->clips.size()) {
        return std::nullopt;
    }
    const bake::ClipPlan& shown = plan()->clips[index];
    KeptWindow kept;
    kept.clip = shown.clip;
    const auto frames = framesOf(shown.clip);
    if (!frames) {
        return std::nullopt;
    }
    kept.frames = *frames;
    kept.window.last = kept.frames - 1;
    for (const bake::ClipChoice& choice : document().recipe.clips) {
        if (choice.name == shown.name && choice.window) {
            kept.window = {choice.window->first, std::min(choice.window->last, kept.frames - 1)};
        }
    }
    return kept;
}

std::optional<std::size_t> Session::framesOf(std::size_t clip) const {
    // Whether a clip closes is seen in its poses, which take time; the same few questions come at every
    // change.
    const bake::Recipe& recipe = document().recipe;
    const auto closing = bake::closingOf(recipe, source()->clips()[clip].name);
    const double rate = bake::rateOf(recipe, source()->clips()[clip].name);
    for (const KnownFrames& known : knownFrames_) {
        if (known.source.lock() == source() && known.clip == clip && known.fps == rate &&
            known.closing == closing) {
            return known.frames;
        }
    }
    std::optional<std::size_t> frames;
    if (const bake::SamplePlan* plan = this->plan(); plan && plan->askedRate == rate) {
        for (const bake::ClipPlan& each : plan->clips) {
            frames = each.clip == clip && each.closing == closing ? each.wholeFrames : frames;
        }
    }
    if (!frames && source()->mesh().vertexCount() > kLargeMesh) {
        return std::nullopt;
    }
    constexpr std::size_t kKept = 16;
    if (knownFrames_.size() == kKept) {
        knownFrames_.erase(knownFrames_.begin());
    }
    knownFrames_.push_back({source(), clip, rate, closing,
                            frames ? *frames : bake::measureClip(*source(), clip, recipe).frames});
    return knownFrames_.back().frames;
}

void Session::keepWindow(const bake::FrameWindow& window, bool continuing) {
    const auto kept = keptWindow();
    if (!kept) {
        return;
    }
    edit(
        tr("Frame range"),
        [&](project::Document& d) {
            d.recipe.clips = bake::withWindow(*source(), d.recipe, kept->clip, window);
        },
        gesture(continuing));
}

void Session::pickVertex(int vertex) {
    const int count = source() ? static_cast<int>(source()->mesh().vertexCount()) : 0;
    const int inside = vertex >= 0 && vertex < count ? vertex : -1;
    if (inside != picked_) {
        picked_ = inside;
        Q_EMIT picked(picked_);
    }
}

void Session::mark(std::vector<std::uint32_t> vertices) {
    if (vertices != marks_) {
        marks_ = std::move(vertices);
        Q_EMIT marksChanged();
    }
}

void Session::compareWith(std::optional<double> frame) {
    if (frame != compared_) {
        compared_ = frame;
        Q_EMIT comparedChanged();
    }
}

void Session::showJoint(int joint) {
    if (joint != shownJoint_) {
        shownJoint_ = joint;
        Q_EMIT shownJointChanged();
    }
}

void Session::showWorst() {
    if (!bake()) {
        return;
    }
    const bake::ErrorReport& error = bake()->error;
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

void Session::takeRung(const bake::Rung& rung) {
    edit(tr("Store as %1").arg(QString::fromStdString(rung.label())), [&](project::Document& d) {
        bake::Recipe& recipe = d.recipe;
        recipe.kind = rung.recipe.kind;
        recipe.shapes = rung.recipe.shapes;
        recipe.content = rung.recipe.content;
        recipe.positionStore = rung.recipe.positionStore;
        recipe.step = rung.recipe.step;
        recipe.oversampling = rung.recipe.oversampling;
        recipe.blend = rung.recipe.blend;
        recipe.thin = rung.recipe.thin;
        recipe.normalsInAlpha = rung.recipe.normalsInAlpha;
    });
}

} // namespace ripple::app
