// What the stage draws: the source's mesh and poses, the bake, the colours of the look.

#include "app/stage/stage.h"

#include "app/shell/score_edits.h"

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
    renderer_.setScore(emit::glslScore(name, performance->composition(), emit::Numbers::loose), name,
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
    const bool speed = session_.document().view.look == "speed";
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
        // Weights and colours do not change with the pose; the edges of a large mesh are measured once.
        constexpr std::size_t kManyCorners = 600000;
        const std::string& look = session_.document().view.look;
        const bool small = session_.source()->mesh().indices.size() <= kManyCorners;
        shadesDirty_ = shadesDirty_ || look == "speed" || look == "error" || look == "mask" ||
                       look == "strain" || (look == "wire" && small) || shades_.colours.empty();
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

Shades Stage::bakeErrorShades() const {
    const auto bake = session_.bake();
    const auto& clips = bake->baked.textures.clips;
    const auto clip = static_cast<std::size_t>(session_.playhead().clipIndex());
    if (clip >= clips.size() || poser_.pose().normals.size() != positions().size()) {
        return {};
    }
    std::vector<glm::vec3> read(positions().size());
    std::vector<glm::vec3> normals(positions().size());
    const bake::TextureReader reader = bake->reader(session_.source()->mesh());
    reader.at(clips[clip], static_cast<float>(session_.playhead().frame()), read, normals);
    return session_.document().view.error == "normal"
               ? normalErrorShades(poser_.pose().normals, normals, bake->error.normalMaxDegrees)
               : errorShades(positions(), read, bake->error.all.max);
}

Shades Stage::scoreShades() const {
    const auto performance = session_.performance();
    const motion::Voice* voice = chosenVoice(session_);
    const project::View& view = session_.document().view;
    const mesh::Mesh& mesh = session_.source()->mesh();
    if (!performance || !voice) {
        return {};
    }
    if (view.look == "strain") {
        return strainShades(motion::edgeStrain(mesh, positions()));
    }
    const std::size_t index = voiceIndex(session_.document().score, voice->id);
    const QString name = QString::fromStdString(voice->name);
    if (view.look == "density") {
        return densityShades(motion::measureDensity(*performance, mesh, *voice, index), name);
    }
    const motion::VoiceNodes& nodes = performance->composition().voices[index];
    const bool shape = view.probe == "shape";
    const bool place = view.probe == "place";
    std::vector<float> values = performance->values(shape   ? nodes.shape
                                                    : place ? nodes.place
                                                            : nodes.mask,
                                                    session_.playhead().turn(), {});
    for (float& value : values) {
        value = place ? value - std::floor(value) : value;
    }
    const auto range = motion::shapeRange(voice->shape);
    const QString title = shape   ? tr("%1: shape now").arg(name)
                          : place ? tr("%1: phase now").arg(name)
                                  : tr("%1: mask, black is held").arg(name);
    return probeShades(values, title, shape ? static_cast<float>(range[0]) : 0.0f,
                       shape ? static_cast<float>(range[1]) : 1.0f, session_.pickedVertex());
}

void Stage::refreshShades() {
    shadesDirty_ = false;
    shades_ = {};
    const auto source = session_.source();
    const project::View& view = session_.document().view;
    if (!source || positions().empty()) {
        renderer_.setShades({});
        return;
    }
    const mesh::Mesh& mesh = source->mesh();
    if (view.look == "colours") {
        shades_ = colourShades(mesh, view.channel);
    } else if (view.look == "wire") {
        shades_ = edgeShades(mesh, positions());
    } else if (view.look == "speed") {
        double largest = 0.0;
        const auto survey = session_.survey();
        for (std::size_t c = 0; survey && c < survey->clips.size(); ++c) {
            const inspect::ClipSurvey& clip = survey->clips[c];
            // The step over the seam of an open clip is no speed.
            const std::size_t steps = clip.motion.max.size() - (clip.extent.closed ? 0 : 1);
            for (std::size_t f = 0; clip.extent.spacing > 0.0 && f < steps && f < clip.motion.max.size();
                 ++f) {
                largest = std::max(largest, static_cast<double>(clip.motion.max[f]) / clip.extent.spacing);
            }
        }
        shades_ = speedShades(poser_.pose(), largest);
    } else if (view.look == "mask" || view.look == "density" || view.look == "strain") {
        shades_ = scoreShades();
    } else if (view.look == "error" && session_.bake()) {
        shades_ = bakeErrorShades();
    } else if (view.look == "joints" && !source->joints().empty()) {
        const auto joint = static_cast<std::size_t>(std::max(session_.shownJoint(), 0));
        shades_ = weightShades(source->jointWeights(joint), QString::fromStdString(source->joints()[joint]));
    } else if (view.look == "uv-grid" && !mesh.uvSets.empty()) {
        const std::size_t set = std::min(view.uvSet, mesh.uvSets.size() - 1);
        renderer_.setGridUvs(mesh.uvSets[set]);
        shades_.title =
            tr("UV set %1 of %n (counted from 0)", nullptr, static_cast<int>(mesh.uvSets.size())).arg(set);
    }
    renderer_.setShades(shades_.colours);
}

} // namespace ripple::app
