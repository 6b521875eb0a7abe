// What the stage draws: the source's mesh and poses, the bake, the colours of the look.

#include "app/stage/stage.h"

#include "app/session/score_edits.h"

#include <algorithm>
#include <cmath>

namespace ripple::app {

void Stage::takeSource() {
    sourceDirty_ = false;
    taken_.reset();
    const auto source = session_.source();
    bounds_ = {};
    restBounds_ = {};
    poser_.setSource(source);
    comparedDirty_ = shadesDirty_ = true;
    if (!source) {
        renderer_.clearMesh();
        return;
    }
    renderer_.setMesh(source->mesh());
    startCoarse();
    restBounds_.add(source->mesh().positions);
    bounds_.add(restBounds_);
    if (!framed_) {
        touched_ = false;
        frameModel(false);
        framed_ = true;
    }
}

void Stage::startCoarse() {
    // Of a mesh this dense most triangles are smaller than a few pixels.
    constexpr std::size_t kDraftTriangles = 14000;
    constexpr std::size_t kShadowTriangles = 4000;
    coarseJob_.cancel();
    const auto source = session_.source();
    if (!renderer_.isSoftware() || source->mesh().triangleCount() < 3 * kDraftTriangles / 2) {
        return;
    }
    using Both = std::shared_ptr<const std::pair<mesh::Coarse, mesh::Coarse>>;
    coarseJob_.start<Both>(
        [source](base::Progress& progress) {
            progress.checkpoint();
            return std::make_shared<const std::pair<mesh::Coarse, mesh::Coarse>>(
                mesh::coarsen(source->mesh(), kDraftTriangles),
                mesh::coarsen(source->mesh(), kShadowTriangles));
        },
        [this](Both both) {
            if (gl_.makeCurrent()) {
                renderer_.setCoarse(both->first, both->second);
            }
        },
        [](const base::Problem&) {}); // then drafts are drawn with all triangles
}

void Stage::takeBake() {
    bakeDirty_ = false;
    const auto encoded = session_.encoded();
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
    scoreDirty_ = false;
    const auto performance = session_.performance();
    // On top of clips it is poses that move: those come from the processor.
    if (!performance || session_.document().scoreOnTop) {
        renderer_.clearScore();
        return;
    }
    const std::string name = session_.document().assetName();
    renderer_.setScore(emit::scoreCode(emit::glsl(), name, performance->composition(), emit::Numbers::loose), name,
                       performance->fields());
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
        constexpr std::size_t kManyCorners = 600000;
        const Measures measures = lookOf(session_.document().view).measures;
        const bool small = session_.source()->mesh().indices.size() <= kManyCorners;
        shadesDirty_ = shadesDirty_ || measures == Measures::eachPose ||
                       (measures == Measures::smallMeshes && small) || shades_.colours.empty();
    }
}

void Stage::poseCompared() {
    comparedDirty_ = false;
    const auto source = session_.source();
    const bake::SamplePlan* plan = session_.plan();
    const auto clip = static_cast<std::size_t>(session_.playhead().clipIndex());
    if (!session_.compared() || !source || !plan || clip >= plan->clips.size()) {
        return;
    }
    const bake::ClipPlan& of = plan->clips[clip];
    const double spacing = of.frameStep > 0.0 && of.fps > 0.0 ? 1.0 / (of.fps * of.frameStep) : 0.0;
    const double first = of.seconds.front() - of.firstFrame * spacing;
    std::vector<glm::vec3> positions(source->mesh().vertexCount());
    std::vector<glm::vec3> normals(positions.size());
    try {
        bake::samplePose(*source, {of.clip, {}, of.loop}, first + *session_.compared() * spacing, positions,
                         normals);
        renderer_.setComparedPose(positions, normals);
    } catch (const base::Failure&) {
        session_.compareWith(std::nullopt); // the frame is named among the findings
    }
}

void Stage::refreshShades() {
    shadesDirty_ = false;
    shades_ = {};
    const auto source = session_.source();
    const LookRow& look = lookOf(session_.document().view);
    if (source && !positions().empty() && look.shades) {
        shades_ = look.shades(session_, poser_.pose());
        if (shades_.uvSet) {
            renderer_.setGridUvs(source->mesh().uvSets[*shades_.uvSet]);
        }
    }
    renderer_.setShades(shades_.colours);
}

} // namespace ripple::app
