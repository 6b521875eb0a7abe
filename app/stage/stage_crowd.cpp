// The stage of the Scatter bench: thousands of copies on their ground, drawn by the shipped code.

#include "app/stage/stage.h"

#include "motion/kinds.h"

#include <QImageReader>

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::app {

namespace {

/// Triangles of a crowd that are drawn once more for their shadows.
constexpr std::size_t kShadowedTriangles = 1'500'000;
constexpr int kGroundCells = 96; ///< of what is drawn of an uneven ground, each way

CopyTint tintOf(const LookRow& look) {
    const std::string id = look.id;
    return id == "by-clip"  ? CopyTint::clip
           : id == "phase"  ? CopyTint::phase
           : id == "levels" ? CopyTint::level
                            : CopyTint::own;
}

QImage shownImage(const std::string& file) {
    QImageReader reader(QString::fromStdString(file));
    constexpr int kLargest = 2048;
    const QSize size = reader.size();
    if (size.width() > kLargest || size.height() > kLargest) {
        reader.setScaledSize(size.scaled(kLargest, kLargest, Qt::KeepAspectRatio));
    }
    const QImage image = reader.read();
    if (!image.isNull()) {
        return image;
    }
    QImage none(1, 1, QImage::Format_RGBA8888); // the findings say that it can't be read
    none.fill(Qt::white);
    return none;
}

} // namespace

bool Stage::showsCrowd() const {
    const auto state = session_.crowd().state();
    return benchOf(session_.document().view).copies && ready_ && session_.source() && state &&
           !session_.crowd().states().empty() && (state->score ? renderer_.hasScore() : renderer_.hasBake());
}

mesh::Bounds Stage::crowdArea() const {
    const auto state = session_.crowd().state();
    mesh::Bounds area;
    if (!state) {
        return area;
    }
    const mesh::Bounds& one = state->measured.bounds;
    const float most = state->choices.differences.mostSize;
    const float reach =
        most * std::max({std::abs(one.min.x), std::abs(one.max.x), std::abs(one.min.z), std::abs(one.max.z)});
    for (const scatter::Copy& copy : state->placed.copies) {
        area.add({&copy.origin, 1});
    }
    const glm::vec3 low = area.min - glm::vec3(reach, 0.0f, reach);
    const glm::vec3 high = area.max + glm::vec3(reach, most * std::max(one.max.y, 0.0f), reach);
    area.add({&low, 1});
    area.add({&high, 1});
    return area;
}

void Stage::changeCamera() {
    const bool crowd = benchOf(session_.document().view).copies;
    if (crowd != crowdCamera_) {
        std::swap(camera_, otherCamera_);
        crowdCamera_ = crowd;
    }
    if (crowd && !crowdFramed_ && session_.crowd().state()) {
        camera_.lookAcross(crowdArea());
        crowdFramed_ = true;
    }
}

void Stage::takeGround() {
    groundDirty_ = false;
    const auto state = session_.crowd().state();
    Scenery& scenery = renderer_.scenery();
    if (!showsCrowd() || !state || state->choices.ground == "flat") {
        scenery.setGround({}, {}, {});
        return;
    }
    if (state->placed.groundMesh) {
        const mesh::Mesh& ground = *state->placed.groundMesh;
        scenery.setGround(ground.positions, ground.normals, ground.indices);
        return;
    }
    // A built-in one is drawn as far as the copies stand, and a little beyond.
    const glm::vec3 size = 1.25f * state->choices.placement.size;
    std::vector<glm::vec3> positions;
    std::vector<glm::vec3> normals;
    std::vector<std::uint32_t> indices;
    for (int row = 0; row <= kGroundCells; ++row) {
        for (int column = 0; column <= kGroundCells; ++column) {
            const glm::vec2 part(static_cast<float>(column) / kGroundCells - 0.5f,
                                 static_cast<float>(row) / kGroundCells - 0.5f);
            const auto spot = state->placed.ground->below({part.x * size.x, part.y * size.z});
            positions.push_back(spot ? spot->position : glm::vec3(0.0f));
            normals.push_back(spot ? spot->normal : glm::vec3(0.0f, 1.0f, 0.0f));
            if (row < kGroundCells && column < kGroundCells) {
                const auto at = static_cast<std::uint32_t>(row * (kGroundCells + 1) + column);
                const std::uint32_t below = at + kGroundCells + 1;
                indices.insert(indices.end(), {at, below, at + 1, at + 1, below, below + 1});
            }
        }
    }
    scenery.setGround(positions, normals, indices);
}

void Stage::takeCrowd() {
    const auto state = session_.crowd().state();
    const bool merged = benchOf(session_.document().view).copies && state && state->choices.merged;
    scoreDirty_ = renderer_.setMerged(merged ? std::optional(state->choices.keeps) : std::nullopt,
                                      merged ? scatter::boxOf(state->placed.copies) : mesh::Bounds()) ||
                  scoreDirty_;
    if (state == crowdTaken_) {
        return;
    }
    crowdTaken_ = state;
    groundDirty_ = crowdDirty_ = true;
    std::vector<mesh::Coarse> levels;
    for (std::size_t k = 0; state && k < state->measured.levels.size(); ++k) {
        levels.push_back(state->measured.levels[k].triangles);
    }
    renderer_.setLevels(levels);
    const std::vector<std::string> files = state ? state->choices.images : std::vector<std::string>();
    if (files != imagesTaken_) {
        imagesTaken_ = files;
        std::vector<QImage> images;
        for (const std::string& file : files) {
            images.push_back(shownImage(file));
        }
        renderer_.setImages(images);
    }
    scoreDirty_ = true; // merged copies play it from other places
}

CrowdView Stage::crowdView() const {
    const auto state = session_.crowd().state();
    CrowdView crowd;
    crowd.one = state->measured.bounds;
    crowd.tint = tintOf(lookOf(session_.document().view));
    const scatter::Choices& choices = state->choices;
    if (choices.merged) {
        crowd.merged = choices.keeps;
        crowd.box = scatter::boxOf(state->placed.copies);
        return crowd; // one mesh has one level
    }
    std::vector<double> from = scatter::levelDistances(choices, state->measured, camera_.fieldOfView());
    if (choices.hideBeyond > 0.0 && !from.empty()) {
        crowd.hiddenFrom = static_cast<float>(from.back());
        from.pop_back();
    }
    crowd.levelsFrom.assign(from.begin(), from.end());
    for (const scatter::CrowdClip& clip : state->crowd.clips) {
        crowd.clipFrames.push_back(clip.frames);
        const auto rate = static_cast<float>(choices.farRate);
        crowd.farSteps.push_back(rate > 0.0f && rate < clip.fps ? clip.fps / rate : 0.0f);
    }
    return crowd;
}

void Stage::placeCrowd(SceneView& view) {
    if (!showsCrowd()) {
        if (std::exchange(crowdShown_, false)) {
            renderer_.setCopies({}, {});
            renderer_.scenery().setBall({}, 0.0f);
            groundDirty_ = true;
        }
        if (groundDirty_) {
            takeGround();
        }
        return;
    }
    const auto state = session_.crowd().state();
    crowdShown_ = true;
    if (groundDirty_) {
        takeGround();
    }
    const CrowdView crowd = crowdView();
    if (crowdDirty_ || !(crowd == crowdDrawn_)) {
        crowdDirty_ = false;
        crowdDrawn_ = crowd;
        const auto states = session_.crowd().states();
        renderer_.setCopies({states.begin(), states.end()}, crowd);
    }
    view.look = lookOf(session_.document().view).drawn;
    view.scored = state->score;
    view.curtain = state->score ? -1 : 0; // what is shipped, all across
    view.compared = false;
    view.turn = 0.0f;
    view.fade = 1.0f;
    view.gridCell = 1.0f;
    view.groundY = 0.0f;
    view.shadows =
        state->placed.copies.size() * session_.source()->mesh().triangleCount() <= kShadowedTriangles;
    view.keepsShadow = false;
    // Shadows are for what is near; the map would be too coarse for a whole field.
    mesh::Bounds near = crowdArea();
    const glm::vec3 reach(1.4f * camera_.distance());
    near.min = glm::max(near.min, camera_.target() - reach);
    near.max = glm::min(near.max, camera_.target() + reach);
    view.bounds = near.min.x < near.max.x && near.min.z < near.max.z ? near : crowdArea();
    const auto ball = ballMiddle();
    renderer_.scenery().setBall(ball.value_or(glm::vec3(0.0f)),
                                ball ? static_cast<float>(state->choices.ballRadius) : 0.0f);
}

std::optional<glm::vec3> Stage::ballMiddle() const {
    const auto state = session_.crowd().state();
    if (!benchOf(session_.document().view).copies || !state || !session_.document().scatter.ball) {
        return std::nullopt;
    }
    const glm::vec2 place = session_.crowd().ball();
    const auto spot = state->placed.ground->below(place);
    return glm::vec3(
        place.x, (spot ? spot->position.y : 0.0f) + static_cast<float>(state->choices.ballRadius), place.y);
}

std::shared_ptr<const motion::Performance> Stage::crowdPerformance() const {
    const auto state = session_.crowd().state();
    if (!benchOf(session_.document().view).copies || !state || !state->score) {
        return session_.performance();
    }
    const auto ball = ballMiddle();
    if (!ball || state->played != state->asset.performance || !state->asset.score) {
        return state->played;
    }
    motion::Score pushed = *state->asset.score;
    bool any = false;
    for (motion::Voice& voice : pushed.voices) {
        if (motion::rowOf(voice.push).followsMover) {
            any = true;
            voice.push.moverX = static_cast<double>(ball->x);
            voice.push.moverY = static_cast<double>(ball->y);
            voice.push.moverZ = static_cast<double>(ball->z);
        }
    }
    return any ? std::make_shared<const motion::Performance>(pushed, session_.openedSource()->mesh(),
                                                             state->played.get())
               : state->played;
}

void Stage::dragBall(const QPointF& at) {
    const auto middle = ballMiddle();
    const Ray ray = sight(at);
    if (!middle || std::abs(ray.way.y) < 1e-4f) {
        return;
    }
    const float along = (middle->y - ray.from.y) / ray.way.y;
    if (along <= 0.0f) {
        return; // above the horizon
    }
    const glm::vec3 to = ray.from + along * ray.way;
    const glm::vec3 half = 0.75f * session_.crowd().state()->choices.placement.size;
    session_.crowd().setBall({std::clamp(to.x, -half.x, half.x), std::clamp(to.z, -half.z, half.z)});
}

std::optional<QPointF> Stage::ballPlace() const {
    const auto middle = ballMiddle();
    return middle && showsCrowd() ? std::optional(project(*middle)) : std::nullopt;
}

std::optional<QPointF> Stage::windPlace() const {
    return windWay() && showsCrowd() ? std::optional(project(windArrow()[1])) : std::nullopt;
}

bool Stage::overBall(const QPointF& at) const {
    const auto middle = ballMiddle();
    if (!middle || !showsCrowd()) {
        return false;
    }
    const Ray ray = sight(at);
    const glm::vec3 to = *middle - ray.from;
    const glm::vec3 beside = to - ray.way * glm::dot(to, ray.way);
    return glm::length(beside) < static_cast<float>(session_.crowd().state()->choices.ballRadius);
}

} // namespace ripple::app
