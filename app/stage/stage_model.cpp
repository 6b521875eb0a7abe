// What the stage draws: the source's mesh and poses, the bake, the colours of the look.

#include "app/stage/stage.h"

#include "app/session/score_edits.h"

#include <algorithm>
#include <cmath>

namespace ripple::app {

namespace {

/// Triangles' corners of a mesh whose looks are measured in the background.
constexpr std::size_t kManyCorners = 600000;

} // namespace

void Stage::takeSource() {
    sourceDirty_ = false;
    taken_.reset();
    const auto source = session_.source();
    bounds_ = {};
    restBounds_ = {};
    poser_.setSource(source);
    comparedPoser_.setSource(source);
    rehearsedTaken_.reset();
    prepareJob_.cancel();
    shadesJob_.cancel();
    pieces_.stop();
    shades_ = {};
    comparedDirty_ = shadesDirty_ = true;
    renderer_.clearMesh();
    prepared_.reset(); // of the mesh before, perhaps on its way still
    if (!source) {
        return;
    }
    restBounds_.add(source->mesh().positions);
    bounds_.add(restBounds_);
    if (!framed_) {
        touched_ = false;
        frameModel(false);
        framed_ = true;
    }
    const bool software = renderer_.isSoftware();
    if (isPreparedAtOnce(source->mesh())) {
        beginMesh(prepareMesh(source->mesh(), software));
        renderer_.meshPieces().workAll();
        meshIsThere();
        return;
    }
    using Prepared = std::shared_ptr<const PreparedMesh>;
    prepareJob_.start<Prepared>(
        [source, software](base::Progress& progress) {
            return prepareMesh(source->mesh(), software, progress);
        },
        [this](const Prepared& prepared) {
            if (gl_.makeCurrent()) {
                beginMesh(prepared);
                pieces_.start(0);
            }
        },
        [this](const base::Problem& problem) {
            session_.sourceReadFailed(QString::fromStdString(problem.line()));
        });
}

void Stage::beginMesh(std::shared_ptr<const PreparedMesh> prepared) {
    prepared_ = std::move(prepared); // looked at until all is there
    meshSource_ = session_.source();
    renderer_.beginMesh(meshSource_->mesh(), *prepared_);
}

void Stage::meshIsThere() {
    prepared_.reset();
    if (renderer_.finishesInPieces() && !keepsDraftPixels_) {
        draftScale_ = kLeastScale; // more pixels come as soon as there is time for them
    }
    // What was there to be drawn waited for it.
    bakeDirty_ = scoreDirty_ = poseDirty_ = comparedDirty_ = shadesDirty_ = true;
    taken_.reset();
}

void Stage::takeBake() {
    if (!renderer_.hasMesh()) {
        return; // it is being prepared
    }
    bakeDirty_ = false;
    const auto encoded = session_.drawnBake();
    const auto source = session_.source();
    if (encoded && encoded == taken_) {
        return; // drawn already, while its error was measured
    }
    taken_ = source ? encoded : nullptr;
    if (!taken_) {
        renderer_.clearBake();
        return;
    }
    renderer_.setBake(encoded, source->mesh(), session_.document().assetName());
    bounds_.add(encoded->bounds);
}

void Stage::takeScore() {
    if (!renderer_.hasMesh()) {
        return;
    }
    scoreDirty_ = false;
    const auto performance = crowdPerformance();
    // On top of clips it is poses that move: those come from the processor.
    if (!performance || session_.document().scoreOnTop) {
        renderer_.clearScore();
        return;
    }
    const std::string name = session_.document().assetName();
    renderer_.setScore(
        emit::scoreCode(emit::glsl(), name, performance->composition(), {.numbers = emit::Numbers::loose}),
        name, performance->fields());
}

void Stage::poseSource() {
    poseDirty_ = false;
    const bake::SamplePlan* plan = session_.plan();
    const auto source = session_.source();
    const auto clip = static_cast<std::size_t>(session_.playhead().clipIndex());
    if (!source) {
        return;
    }
    const bool speed = lookOf(session_.document().view).needsSpeed;
    if (plan && clip < plan->clips.size()) {
        const bake::ClipPlan& of = plan->clips[clip];
        const source::Clip& from = source->clips()[of.clip];
        // Over the seam of a closed clip the source runs on to its end, which is its beginning.
        const double seconds = of.seconds.front() + session_.playhead().frame() / of.fps;
        const double end = of.fade.length > 0.0 ? of.fade.end : from.start + from.duration + of.loop.join;
        poser_.request(of.clip, std::min(seconds, end), speed, &of);
    } else {
        poser_.request(0, source->clips()[0].start, speed);
    }
    if (!poser_.busy()) {
        takePose();
    }
}

void Stage::takePose() {
    if (ready_ && !positions().empty() && gl_.makeCurrent()) {
        renderer_.setPose(poser_.pose().positions, poser_.pose().normals);
        const Measures measures = lookOf(session_.document().view).measures;
        const bool small = session_.source()->mesh().indices.size() <= kManyCorners;
        shadesDirty_ = shadesDirty_ || measures == Measures::eachPose ||
                       (measures == Measures::smallMeshes && small) || shades_.colours.empty();
    }
}

void Stage::poseCompared() {
    comparedDirty_ = false;
    const auto source = session_.source();
    if (const auto played = rehearsed(); played != rehearsedTaken_) {
        rehearsedTaken_ = played;
        comparedPoser_.replaceSource(played ? std::static_pointer_cast<const source::FrameSource>(played)
                                            : source);
    }
    if (rehearsedTaken_) {
        const Playhead& playhead = session_.playhead();
        const std::size_t clip =
            std::min(static_cast<std::size_t>(playhead.clipIndex()), rehearsedTaken_->clips().size() - 1);
        comparedPoser_.request(clip, rehearsedTaken_->secondsAt(clip, playhead.frame(), playhead.turn()),
                               false);
        if (!comparedPoser_.busy()) {
            takeCompared();
        }
        return;
    }
    const bake::SamplePlan* plan = session_.plan();
    const auto clip = static_cast<std::size_t>(session_.playhead().clipIndex());
    if (!session_.compared() || !source || !plan || clip >= plan->clips.size()) {
        return;
    }
    const bake::ClipPlan& of = plan->clips[clip];
    const double spacing = of.frameStep > 0.0 && of.fps > 0.0 ? 1.0 / (of.fps * of.frameStep) : 0.0;
    const double first = of.seconds.front() - of.firstFrame * spacing;
    const bake::ClipMotion motion{of.clip, {}, of.loop};
    comparedPoser_.request(of.clip, first + *session_.compared() * spacing, false, &motion);
    if (!comparedPoser_.busy()) {
        takeCompared();
    }
}

void Stage::takeCompared() {
    if (!comparedPoser_.problem().isEmpty()) {
        session_.compareWith(std::nullopt); // the frame is named among the findings
    } else if (ready_ && gl_.makeCurrent()) {
        renderer_.setComparedPose(comparedPoser_.pose().positions, comparedPoser_.pose().normals);
    }
}

void Stage::refreshShades() {
    shadesDirty_ = false;
    const auto source = session_.source();
    const LookRow& look = lookOf(session_.document().view);
    if (!source || positions().empty() || !look.shades) {
        shadesJob_.cancel();
        takeShades({});
        return;
    }
    if (shadesJob_.running() && measuredLook_ == look.id) {
        shadesDirty_ = true; // once more when it is done: each pose would put it off
        return;
    }
    measuredLook_ = look.id;
    const Seen seen = seenNow(session_, poser_.sharedPose());
    if (source->mesh().indices.size() <= kManyCorners) {
        takeShades(look.shades(seen));
        return;
    }
    if (shadesLook_ != look.id) {
        takeShades({}); // those of another look do not stand for it until it is measured
    }
    shadesJob_.start<Shades>([seen, shades = look.shades](base::Progress&) { return shades(seen); },
                             [this](Shades shades) {
                                 if (gl_.makeCurrent()) {
                                     takeShades(std::move(shades));
                                     update();
                                 }
                             },
                             [](const base::Problem&) {});
}

void Stage::takeShades(Shades shades) {
    shades_ = std::move(shades);
    shadesLook_ = session_.document().view.look;
    const auto source = session_.source();
    if (shades_.uvSet && source) {
        renderer_.setGridUvs(source->mesh().uvSets[*shades_.uvSet]);
    }
    renderer_.setShades(shades_.colours);
}

} // namespace ripple::app
