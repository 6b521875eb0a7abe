#include "app/session/bake_stage.h"

#include "bake/kind.h"
#include "bake/room.h"

#include <algorithm>

namespace ripple::app {

namespace {

/// Sources whose frames take more memory than this are baked only when asked.
constexpr std::size_t kAutoBakeBytes = std::size_t{1} << 30;

std::size_t frameBytes(const source::FrameSource& source, const bake::SamplePlan& plan) {
    std::size_t poses = plan.frameCount();
    for (const bake::ClipPlan& clip : plan.clips) {
        poses += clip.probes.size();
    }
    return source.mesh().vertexCount() * poses * 2 * sizeof(glm::vec3);
}

/// Every `each`-th pose of a clip.
bake::Frames someOf(const bake::Frames& frames, const bake::BakedClip& clip, std::size_t each) {
    bake::Frames some;
    some.vertices = frames.vertices;
    some.frames = (clip.frames + each - 1) / each;
    some.positions.reserve(some.frames * some.vertices);
    for (std::size_t f = 0; f < clip.frames; f += each) {
        const auto own = frames.positionsOf(clip.firstFrame + f);
        some.positions.insert(some.positions.end(), own.begin(), own.end());
    }
    return some;
}

/// The seam as the clip is played: of a thinned one from poses at all its frames. Where more frames are
/// stored than the rate gives, from one for each that it gives: between the source's own keys nothing jumps.
bake::Seam seamOf(const source::FrameSource& source, const bake::ClipPlan& plan, const bake::Frames& frames,
                  const bake::BakedClip& clip, std::size_t each) {
    if (plan.times.empty() && each > 1 && clip.frames >= 3 * each) {
        const bake::Frames some = someOf(frames, clip, each);
        return bake::measureSeam(some, 0, some.frames, clip.fps / static_cast<double>(each));
    }
    if (plan.times.empty()) {
        return bake::measureSeam(frames, clip.firstFrame, clip.frames, clip.fps);
    }
    bake::SamplePlan whole;
    whole.clips.push_back(plan);
    bake::ClipPlan& all = whole.clips.front();
    const double start = plan.seconds.front();
    all.seconds.clear();
    all.times.clear();
    for (std::size_t f = 0; f < plan.length; ++f) {
        all.seconds.push_back(start + static_cast<double>(f) / plan.fps);
    }
    return bake::measureSeam(bake::sampleFrames(source, whole), 0, plan.length, plan.fps);
}

/// What an earlier report says that needs no measuring again: textures that hold vertices decode to the same
/// whenever they are stored in the same way.
bake::EarlierError earlierError(const BakeState* earlier, const bake::TextureSet& now) {
    if (!earlier || !earlier->baked.textures.kind->holdsVertices || !now.kind->holdsVertices) {
        return {};
    }
    const bake::TextureSet& then = earlier->baked.textures;
    const bool positions = std::string(then.positionStore.name) == now.positionStore.name &&
                           then.content == now.content && then.blend == now.blend &&
                           then.ranges == now.ranges;
    const bool normals =
        std::string(then.normalStore.name) == now.normalStore.name && then.blend == now.blend;
    return {positions ? &earlier->error : nullptr, normals ? &earlier->error : nullptr};
}

using Encoded = std::function<void(std::shared_ptr<const bake::Baked>)>;

std::shared_ptr<const BakeState> encodeAndMeasure(const std::shared_ptr<const source::FrameSource>& source,
                                                  const bake::Recipe& recipe, const bake::SamplePlan& plan,
                                                  HeldPoses held, base::Progress& progress,
                                                  const Encoded& encoded) {
    auto state = std::make_shared<BakeState>();
    state->plan = plan;
    progress.stage(0.0, 0.5);
    if (!held.frames) {
        bake::requireFitting(recipe);
        bake::requireRoom(*source, state->plan, recipe);
        held.frames = std::make_shared<bake::Frames>(bake::sampleFrames(*source, state->plan, progress));
        held.probes = std::make_shared<bake::Frames>(bake::sampleProbes(*source, state->plan));
    }
    state->frames = held.frames;
    state->probes = held.probes;
    const bake::Frames& frames = *held.frames;
    progress.stage(0.5, 0.7);
    state->baked = bake::encodeFrames(*source, state->plan, frames, recipe, progress,
                                      held.bake ? &held.bake->baked : nullptr);
    encoded({state, &state->baked}); // nothing below changes it
    progress.stage(0.7, 1.0);
    const bake::TextureReader reader = state->reader(source->mesh());
    const auto& clips = state->baked.textures.clips;
    state->error =
        bake::measureError(*source, state->plan, {&frames, held.probes.get()}, reader, clips, progress,
                           bake::Detail::all, earlierError(held.bake.get(), state->baked.textures));
    state->motion = std::move(held.motion);
    state->seams = std::move(held.seams);
    for (std::size_t c = state->seams.size(); c < clips.size(); ++c) {
        state->motion.push_back(bake::measureMotion(frames, clips[c].firstFrame, clips[c].frames));
        state->seams.push_back(
            seamOf(*source, state->plan.clips[c], frames, clips[c],
                   source->clips()[state->plan.clips[c].clip].isSequence() ? 1 : state->plan.oversampling));
    }
    return state;
}

std::shared_ptr<const bake::Baked> encodedOf(const std::shared_ptr<const BakeState>& state) {
    return state ? std::shared_ptr<const bake::Baked>(state, &state->baked) : nullptr;
}

} // namespace

BakeOutcome makeBake(const std::shared_ptr<const source::FrameSource>& source, const bake::Recipe& recipe,
                     const HeldPoses& held, bool asked, const Encoded& encoded, base::Progress& progress) {
    BakeOutcome outcome;
    outcome.plan = held.frames ? held.plan : bake::planSampling(*source, recipe, progress);
    outcome.bytes = frameBytes(*source, outcome.plan);
    if (asked || outcome.bytes <= kAutoBakeBytes) {
        // A picture of new poses waits for its error: both are shown together.
        outcome.state = encodeAndMeasure(source, recipe, outcome.plan, held, progress,
                                         held.frames ? encoded : Encoded([](const auto&) {}));
    }
    return outcome;
}

BakeStage::BakeStage(PerformanceStage& performance) : Computed(&performance), performance_(performance) {
    connect(&job_, &LatestJob::cancelled, this, [this] {
        encoded_ = encodedOf(result_); // numbers and picture go together again
        Q_EMIT encodedChanged();
    });
}

void BakeStage::clear() {
    result_.reset();
    encoded_.reset();
    sampledRecipe_.reset();
    problem_.reset();
    held_ = false;
    bytes_ = 0;
}

void BakeStage::outdate() {
    // A bake of as many clips is shown until there is a newer one.
    const auto source = performance_.source();
    if (result_ && source && result_->baked.textures.clips.size() != source->clips().size()) {
        result_.reset();
        encoded_.reset();
    }
    sampledRecipe_.reset();
}

void BakeStage::start(bool asked) {
    const auto source = performance_.source();
    if (!source) {
        return;
    }
    const bake::Recipe recipe = performance_.recipe();
    HeldPoses held;
    if (result_ && sampledRecipe_ && samplesAlike(*sampledRecipe_, recipe)) {
        // Only the encoding changed.
        held = {result_->plan, result_->frames, result_->probes, result_->motion, result_->seams, result_};
    }
    job_.startTelling<BakeOutcome>(
        [this, source, recipe, held, asked](base::Progress& progress, const LatestJob::Tell& tell) {
            const Encoded show = [&](std::shared_ptr<const bake::Baked> baked) {
                tell([this, baked = std::move(baked)] { // done only while this is there and at it
                    encoded_ = baked;
                    Q_EMIT encodedChanged();
                });
            };
            return makeBake(source, recipe, held, asked, show, progress);
        },
        [this, recipe](BakeOutcome outcome) { take(std::move(outcome), recipe); },
        [this](base::Problem problem) {
            result_.reset();
            encoded_.reset();
            held_ = false;
            problem_ = std::move(problem);
            Q_EMIT finished();
        });
}

void BakeStage::take(BakeOutcome outcome, const bake::Recipe& recipe) {
    result_ = std::move(outcome.state);
    encoded_ = encodedOf(result_);
    held_ = result_ == nullptr;
    bytes_ = outcome.bytes;
    sampledRecipe_ = recipe;
    problem_.reset();
    performance_.takePlan(std::move(outcome.plan));
    Q_EMIT finished();
}

} // namespace ripple::app
