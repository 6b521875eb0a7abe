#include "motion/ready_scores.h"

#include <algorithm>
#include <array>
#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

/// A voice that begins as most do.
Voice voice(const char* name, PushKind push, const glm::vec3& direction, int turns) {
    Voice v;
    v.name = name;
    v.push.kind = push;
    v.push.direction = direction;
    v.turns = turns;
    v.course.kind = CourseKind::unison;
    v.heldBy.clear();
    return v;
}

Voice along(Voice v, const glm::vec3& direction, double wavelengthMetres) {
    v.course.kind = CourseKind::direction;
    v.course.direction = direction;
    v.wavelength = {wavelengthMetres, false};
    return v;
}

/// Still before `low` metres along `direction` from `point`, free after `high`.
MaskTerm between(const glm::vec3& direction, const glm::vec3& point, double low, double high) {
    MaskTerm term;
    term.direction = direction;
    term.point = point;
    term.low = low;
    term.high = high;
    return term;
}

/// A bend of `length` about `hinge` at `pivot`.
Voice bend(const char* name, const glm::vec3& hinge, const glm::vec3& pivot, const glm::vec3& length,
           double spanMetres, double degrees, int turns) {
    Voice v = voice(name, PushKind::bend, hinge, turns);
    v.push.point = pivot;
    v.push.length = length;
    v.push.span = {spanMetres, false};
    v.degrees = degrees;
    return v;
}

/// Pieces of a model that have numbers of their own swing apart, else its copies do.
CopyPhase apart(const Model& model, double turns) {
    CopyPhase phase;
    phase.kind = model.stored.empty() ? PhaseKind::id : PhaseKind::stored;
    phase.turns = turns;
    phase.stored = model.stored.empty() ? "" : model.stored.front();
    return phase;
}

double metres(float value) {
    return static_cast<double>(value);
}

Score stalkInWind(const mesh::Bounds& b, const Model& model) {
    const glm::vec3 root(b.centre().x, b.min.y, b.centre().z);
    const double height = metres(b.size().y);
    Score score;
    score.loopSeconds = 6.0;
    Voice lean = bend("Lean", {0, 0, -1}, root, {0, 1, 0}, height, 13.0, 1);
    lean.shape.kind = ShapeKind::crested;
    lean.shape.sharpness = 2;
    lean.copyPhase = apart(model, 0.35);
    Voice sway = bend("Sway", {1, 0, 0}, root, {0, 1, 0}, height, 7.0, 3);
    sway.copyPhase = apart(model, 1.0);
    Voice tremble = along(voice("Tremble", PushKind::direction, {0.3f, 0.0f, 1.0f}, 7), {0, 1, 0}, height);
    tremble.shape.kind = ShapeKind::noise;
    tremble.shape.detail = 3;
    tremble.amplitude = {0.010 * height, false};
    tremble.copyPhase = apart(model, 2.0);
    tremble.heldBy = {between({0, 1, 0}, root, 0.25 * height, height)};
    score.voices = {lean, sway, tremble};
    return score;
}

Score leafShimmer(const mesh::Bounds& b, const Model& model) {
    const glm::vec3 root(b.centre().x, b.min.y, b.centre().z);
    const double height = metres(b.size().y);
    Score score;
    score.loopSeconds = 4.0;
    Voice flutter = along(voice("Flutter", PushKind::normal, {0, 1, 0}, 6), {0, 1, 0}, 0.4 * height);
    flutter.amplitude = {0.008 * height, false};
    flutter.heldBy = {between({0, 1, 0}, root, 0.1 * height, 0.9 * height)};
    flutter.copyPhase = apart(model, 1.0);
    Voice sway = bend("Sway", {0, 0, -1}, root, {0, 1, 0}, height, 5.0, 1);
    sway.copyPhase = apart(model, 0.6);
    score.voices = {sway, flutter};
    if (model.uvSets > 0) {
        Voice glint = voice("Glint", PushKind::uvTurn, {1, 0, 0}, 5);
        glint.degrees = 2.0;
        glint.push.point = {0.5f, 0.5f, 0.0f};
        glint.copyPhase = apart(model, 1.0);
        score.voices.push_back(glint);
    }
    return score;
}

Score clothHeldAtOneSide(const mesh::Bounds& b, const Model&) {
    // It hangs or flies along the longer of its two horizontal sides.
    const bool x = b.size().x >= b.size().z;
    const glm::vec3 way = x ? glm::vec3(1, 0, 0) : glm::vec3(0, 0, 1);
    const glm::vec3 cross = x ? glm::vec3(0, 0, 1) : glm::vec3(1, 0, 0);
    const double length = metres(x ? b.size().x : b.size().z);
    // It swings across its thinner way: a push that its waves do not run along never folds it, where one
    // along the normals of sagging cloth does.
    const glm::vec3 other = glm::vec3(0, 1, 0) + cross;
    const bool lies = b.size().y <= glm::dot(b.size(), cross);
    const glm::vec3 push = lies ? glm::vec3(0, 1, 0) : cross;
    const glm::vec3 side = other - push;
    const MaskTerm held = between(way, b.min, 0.02 * length, 0.9 * length);
    Score score;
    score.loopSeconds = 3.0;
    Voice wave = along(voice("Wave", PushKind::direction, push, 3), way, 0.7 * length);
    wave.amplitude = {0.045 * length, false};
    wave.heldBy = {held};
    Voice second = along(voice("Cross wave", PushKind::direction, push, 2), way + 0.8f * side, 0.9 * length);
    second.amplitude = {0.025 * length, false};
    second.heldBy = {held};
    Voice flutter = along(voice("Flutter", PushKind::direction, push, 4), way + 0.2f * side, 0.6 * length);
    flutter.shape.kind = ShapeKind::noise;
    flutter.shape.detail = 3;
    flutter.amplitude = {0.03 * length, false};
    flutter.heldBy = {between(way, b.min, 0.3 * length, length)};
    score.voices = {wave, second, flutter};
    return score;
}

Score clothTubeInWind(const mesh::Bounds& b, const Model& model) {
    const double length = metres(b.size().x);
    const glm::vec3 mouth(b.min.x, b.max.y, b.centre().z);
    std::vector<MaskTerm> held = {between({1, 0, 0}, mouth, 0.06 * length, 0.95 * length)};
    if (model.colours) { // what is painted black does not move
        MaskTerm painted;
        painted.kind = MaskKind::colour;
        painted.easing = Easing::linear;
        painted.high = 0.5;
        held.push_back(painted);
    }
    Score score;
    score.loopSeconds = 3.0;
    Voice side = along(voice("Side to side", PushKind::direction, {0, 0, 1}, 2), {1, 0, 0}, 0.8 * length);
    side.amplitude = {0.09 * length, false};
    side.heldBy = held;
    Voice lift = along(voice("Lift and drop", PushKind::direction, {0, 1, 0}, 1), {1, 0, 0}, 1.1 * length);
    lift.amplitude = {0.07 * length, false};
    lift.phase = 0.2;
    lift.heldBy = held;
    Voice ripple = along(voice("Ripple", PushKind::normal, {0, 1, 0}, 5), {1, 0, 0}, 0.28 * length);
    ripple.shape.kind = ShapeKind::noise;
    ripple.shape.detail = 2;
    ripple.amplitude = {0.022 * length, false};
    ripple.heldBy = held;
    score.voices = {side, lift, ripple};
    return score;
}

/// A wave that fits whole into a tile `side` metres wide: m crests one way, n the other.
Voice tiledWave(const char* name, int m, int n, double side, double amplitude, int turns, double phase) {
    const glm::vec3 way(static_cast<float>(m), 0.0f, static_cast<float>(n));
    Voice v = along(voice(name, PushKind::orbit, way, turns), way, side / std::hypot(m, n));
    v.amplitude = {amplitude, false};
    v.phase = phase;
    return v;
}

Score calmWater(const mesh::Bounds& b, const Model&) {
    const double side = metres(std::max(b.size().x, b.size().z));
    Score score;
    score.loopSeconds = 8.0;
    score.voices = {tiledWave("Swell", 1, 0, side, 0.012 * side, 2, 0.0),
                    tiledWave("Cross swell", 1, 2, side, 0.006 * side, 3, 0.3),
                    tiledWave("Wavelets", -3, 2, side, 0.0025 * side, 4, 0.6)};
    return score;
}

Score choppyWater(const mesh::Bounds& b, const Model&) {
    const double side = metres(std::max(b.size().x, b.size().z));
    Score score;
    score.loopSeconds = 6.0;
    score.voices = {tiledWave("Sea", 2, 1, side, 0.021 * side, 3, 0.0),
                    tiledWave("Cross sea", -1, 3, side, 0.011 * side, 4, 0.4),
                    tiledWave("Chop", 4, -3, side, 0.006 * side, 5, 0.7)};
    Voice rough = along(voice("Roughness", PushKind::direction, {0, 1, 0}, 1), {1, 0, 0}, side);
    rough.shape.kind = ShapeKind::noise;
    rough.shape.detail = 12;
    rough.amplitude = {0.012 * side, false};
    score.voices.push_back(rough);
    return score;
}

Score sideToSide(const mesh::Bounds& b, const Model&) {
    const double length = metres(b.size().z);
    const glm::vec3 head(b.centre().x, b.centre().y, b.max.z);
    Score score;
    score.loopSeconds = 2.0;
    Voice body = along(voice("Body wave", PushKind::direction, {1, 0, 0}, 2), {0, 0, -1}, 1.1 * length);
    body.amplitude = {0.05 * length, false};
    MaskTerm growing = between({0, 0, -1}, head, 0.25 * length, length);
    growing.easing = Easing::late;
    growing.floor = 0.06; // a head that does not stir looks frozen
    body.heldBy = {growing};
    Voice tail = bend("Tail beat", {0, 1, 0}, head - glm::vec3(0, 0, 0.6f * b.size().z), {0, 0, -1},
                      0.4 * length, 22.0, 2);
    tail.phase = 0.1;
    Voice roll = voice("Roll", PushKind::twist, {0, 0, -1}, 2);
    roll.push.point = head;
    roll.push.span = {length, false};
    roll.degrees = 5.0;
    roll.phase = 0.3;
    score.voices = {body, tail, roll};
    return score;
}

Score wingWave(const mesh::Bounds& b, const Model&) {
    const double length = metres(b.size().z);
    const double half = 0.5 * metres(b.size().x);
    const glm::vec3 tailRoot(b.centre().x, b.centre().y, b.min.z + 0.45f * b.size().z);
    Score score;
    score.loopSeconds = 2.4;
    Voice wave = along(voice("Wing wave", PushKind::direction, {0, 1, 0}, 2), {0, 0, -1}, 0.75 * length);
    wave.amplitude = {0.22 * half, false};
    wave.phase = 0.1;
    MaskTerm spine;
    spine.kind = MaskKind::line;
    spine.direction = {0, 0, 1};
    spine.point = b.centre();
    spine.low = 0.10 * half;
    spine.high = half;
    spine.floor = 0.02;
    wave.heldBy = {spine};
    Voice tail = bend("Tail sway", {0, 1, 0}, tailRoot, {0, 0, -1}, 0.45 * length, 26.0, 1);
    Voice glide = voice("Glide", PushKind::direction, {0, 1, 0}, 1);
    glide.amplitude = {0.03 * length, false};
    glide.phase = 0.25;
    score.voices = {wave, tail, glide};
    return score;
}

Score wingBeat(const mesh::Bounds& b, const Model&) {
    const float half = 0.5f * b.size().x;
    const float rootAt = 0.06f * half;
    const glm::vec3 middle(b.centre().x, b.min.y + 0.7f * b.size().y, b.centre().z);
    Score score;
    score.loopSeconds = 0.9;
    const std::vector<float> beat = {0.0f,  0.75f,  1.0f,   0.85f,
                                     0.45f, -0.35f, -0.95f, -0.75f}; // up slowly, down fast
    const auto wing = [&](const char* name, float side, float from, double degrees, double later) {
        const glm::vec3 pivot = middle + glm::vec3(side * from * half, 0.0f, 0.0f);
        Voice v = bend(name, {0, 0, side}, pivot, {side, 0, 0}, metres((1.0f - from) * half), degrees, 1);
        v.shape.kind = ShapeKind::curve;
        v.shape.curve = beat;
        v.phase = -later;
        return v;
    };
    const float root = rootAt / half;
    Voice bob = voice("Bob", PushKind::direction, {0, 1, 0}, 1);
    bob.amplitude = {0.03 * metres(half), false};
    bob.phase = 0.55; // the body rises as the wings go down
    score.voices = {wing("Right wing", 1.0f, root, 46.0, 0.0), wing("Left wing", -1.0f, root, 46.0, 0.0),
                    wing("Right tip", 1.0f, 0.45f, 24.0, 0.14), wing("Left tip", -1.0f, 0.45f, 24.0, 0.14),
                    bob};
    return score;
}

Score breathingDome(const mesh::Bounds& b, const Model& model) {
    const double height = metres(b.size().y);
    const glm::vec3 foot(b.centre().x, b.min.y, b.centre().z);
    Score score;
    score.loopSeconds = 5.0;
    // Away from the body's middle: along the normals, arms thinner than the breath is deep would turn inside
    // out.
    Voice breath = voice("Breath", PushKind::point, {0, 1, 0}, 1);
    breath.push.point = foot + glm::vec3(0.0f, static_cast<float>(0.25 * height), 0.0f);
    breath.amplitude = {0.022 * height, false};
    breath.shape.kind = ShapeKind::crested;
    breath.shape.sharpness = 2;
    MaskTerm belly = between({0, 1, 0}, foot, 0.02 * height, 0.3 * height);
    MaskTerm arms = between({0, 1, 0}, foot, 0.6 * height, 0.75 * height);
    arms.flip = true;
    breath.heldBy = {belly, arms};
    Voice sway =
        bend("Arms sway", {0, 0, -1}, foot + glm::vec3(0.0f, static_cast<float>(0.55 * height), 0.0f),
             {0, 1, 0}, 0.45 * height, 16.0, 2);
    sway.copyPhase = apart(model, 1.0);
    Voice curl = bend("Arms curl", {1, 0, 0}, foot + glm::vec3(0.0f, static_cast<float>(0.55 * height), 0.0f),
                      {0, 1, 0}, 0.45 * height, 11.0, 1);
    curl.copyPhase = apart(model, 2.0);
    Voice rise = voice("Rise", PushKind::direction, {0, 1, 0}, 1);
    rise.amplitude = {0.02 * height, false};
    rise.phase = 0.12;
    rise.heldBy = {between({0, 1, 0}, foot, 0.0, 0.6 * height)};
    score.voices = {sway, curl, breath, rise};
    return score;
}

Score lanternSwing(const mesh::Bounds& b, const Model&) {
    const double height = metres(b.size().y);
    const glm::vec3 hook(b.centre().x, b.max.y, b.centre().z);
    Score score;
    score.loopSeconds = 4.0;
    // A short span turns what hangs below it as one.
    Voice swing = bend("Swing", {0, 0, 1}, hook, {0, -1, 0}, 0.04 * height, 11.0, 2);
    Voice across = bend("Across", {1, 0, 0}, hook, {0, -1, 0}, 0.04 * height, 4.0, 2);
    across.phase = 0.25; // round, not to and fro
    Voice body =
        bend("Body after chain", {0, 0, 1}, hook - glm::vec3(0.0f, static_cast<float>(0.5 * height), 0.0f),
             {0, -1, 0}, 0.04 * height, 6.0, 2);
    body.phase = -0.12;
    Voice spin = voice("Spin", PushKind::twist, {0, -1, 0}, 1);
    spin.push.point = hook;
    spin.push.span = {0.5 * height, false};
    spin.degrees = 14.0;
    score.voices = {body, swing, across, spin};
    return score;
}

} // namespace

std::span<const ReadyScore> readyScores() {
    static constexpr std::array<ReadyScore, 11> kRows = {{
        {"stalk", "Stalk in wind",
         "Each stem bends from its root, keeps its length, and trembles toward its tip.", "bulrush",
         &stalkInWind},
        {"shimmer", "Leaf shimmer", "Leaves flutter along their normals while the texture turns by a breath.",
         "bulrush", &leafShimmer},
        {"cloth", "Cloth held at one side", "Waves run from the held side outward and grow on their way.",
         "awning", &clothHeldAtOneSide},
        {"tube", "Cloth tube in wind", "A sock that is held at its mouth sways, lifts and ripples.",
         "windsock", &clothTubeInWind},
        {"calm", "Calm water",
         "Three swells whose crests fit the tile: copies side by side meet without a seam.", "swell",
         &calmWater},
        {"choppy", "Choppy water", "Steeper crests from three sides, roughened by noise that tiles.", "swell",
         &choppyWater},
        {"side", "Side-to-side swimmer", "A wave grows from head to tail, the tail beats after it.", "skate",
         &sideToSide},
        {"wings", "Wing-wave swimmer", "Waves run down both wings from front to back; the spine holds still.",
         "skate", &wingWave},
        {"beat", "Wing beat",
         "Wings bend about the body, fast down and slowly up, their tips a little later.", "gull", &wingBeat},
        {"breath", "Breathing dome",
         "A body swells and sinks on its foot, its arms sway each in their own time.", "anemone",
         &breathingDome},
        {"lantern", "Lantern swing", "Hangs from its hook and swings round, the body after the chain.",
         "lantern", &lanternSwing},
    }};
    return kRows;
}

mesh::Bounds boundsForReady(const mesh::Mesh& mesh) {
    mesh::Bounds bounds;
    bounds.add(mesh.positions);
    const float least = 0.05f * std::max(bounds.diagonal(), 1e-3f);
    for (int c = 0; c < 3; ++c) {
        bounds.max[c] = std::max(bounds.max[c], bounds.min[c] + least);
    }
    return bounds;
}

Score makeReady(const ReadyScore& ready, const mesh::Mesh& mesh) {
    Score score = ready.make(boundsForReady(mesh), modelOf(mesh));
    score.name = ready.name;
    score.words = ready.words;
    unsigned id = 0;
    for (Voice& each : score.voices) {
        each.id = ++id;
    }
    return score;
}

} // namespace ripple::motion
