// Scores: evaluating one against a loop written by hand for the very same score, with the same threads.
//
// "five_voices": positions of 1 000 000 vertices; bound 1.5 × the hand-written loop. "with_normals":
// positions and derived normals; bound 3 × the same loop, which makes no normals.

#include "base/parallel.h"
#include "bench/against.h"
#include "mesh/test_shapes.h"
#include "motion/perform.h"

#include <cmath>

#include <glm/geometric.hpp>

using namespace ripple;

namespace {

constexpr double kTurn = 0.37;

motion::Voice voice(const char* name, motion::ShapeKind shape, const glm::vec3& course, const glm::vec3& push,
                    double amplitude, double wavelength, int turns, double phase) {
    motion::Voice v;
    v.name = name;
    v.shape.kind = shape;
    v.course.direction = course;
    v.push.direction = push;
    v.amplitude = {amplitude, false};
    v.wavelength = {wavelength, false};
    v.turns = turns;
    v.phase = phase;
    return v;
}

motion::MaskTerm planes(const glm::vec3& direction, double low, double high) {
    motion::MaskTerm term;
    term.direction = direction;
    term.low = low;
    term.high = high;
    return term;
}

motion::Score fiveVoices() {
    using motion::ShapeKind;
    motion::Score score;
    score.voices = {voice("wave", ShapeKind::sine, {0, 0, -1}, {0, 1, 0}, 0.05, 0.8, 2, 0.1),
                    voice("sway", ShapeKind::sine, {1, 0, 0}, {0, 0, 1}, 0.03, 0.6, 1, 0.0),
                    voice("crest", ShapeKind::crested, {1, 0, 1}, {0, 1, 0}, 0.02, 0.4, 3, 0.3),
                    voice("flutter", ShapeKind::triangle, {0, 0, 1}, {1, 0, 0}, 0.01, 0.3, 4, 0.2),
                    voice("glide", ShapeKind::sine, {0, 1, 0}, {0, 1, 0}, 0.04, 1.0, 1, 0.25)};
    score.voices[0].heldBy = {planes({1, 0, 0}, -0.4, 0.4)};
    score.voices[1].heldBy = {planes({0, 0, 1}, -0.5, 0.3)};
    score.voices[2].heldBy = {planes({1, 0, 0}, -0.2, 0.5)};
    score.voices[3].heldBy = {planes({0, 0, -1}, -0.3, 0.5)};
    score.voices[4].course.kind = motion::CourseKind::unison;
    return score;
}

float smooth(float x, float low, float high) {
    const float t = std::clamp((x - low) / (high - low), 0.0f, 1.0f);
    return t * t * (3.0f - 2.0f * t);
}

/// The score above, as one would write it for this once.
void byHand(std::span<const glm::vec3> rest, float turn, std::span<glm::vec3> out) {
    constexpr float kTau = 6.2831853f;
    base::parallelFor(rest.size(), 4096, [&](std::size_t begin, std::size_t end) {
        const float glide = 0.04f * std::sin(kTau * (turn + 0.25f));
        for (std::size_t v = begin; v < end; ++v) {
            const glm::vec3 p = rest[v];
            const float wave =
                0.05f * smooth(p.x, -0.4f, 0.4f) * std::sin(kTau * (2.0f * turn + p.z / 0.8f + 0.1f));
            const float sway = 0.03f * smooth(p.z, -0.5f, 0.3f) * std::sin(kTau * (turn - p.x / 0.6f));
            const float along = (p.x + p.z) * 0.70710678f;
            const float half = 0.5f + 0.5f * std::sin(kTau * (3.0f * turn - along / 0.4f + 0.3f));
            const float crest = 0.02f * smooth(p.x, -0.2f, 0.5f) * (half * half * half - 0.3125f) / 0.6875f;
            const float place = 4.0f * turn - p.z / 0.3f + 0.2f + 0.75f;
            const float flutter = 0.01f * smooth(-p.z, -0.3f, 0.5f) *
                                  (4.0f * std::abs(place - std::floor(place) - 0.5f) - 1.0f);
            out[v] = {p.x + flutter, p.y + wave + crest + glide, p.z + sway};
        }
    });
}

void evaluate(benchmark::State& state, bool normals) {
    mesh::TestShape shape;
    shape.across = shape.along = bench::sized(500, 10);
    mesh::Mesh mesh = mesh::makeTestShape(shape);
    const std::size_t vertices = bench::sized(1000000, mesh.vertexCount());
    while (mesh.positions.size() < vertices) { // four sheets
        mesh.positions.insert(mesh.positions.end(), mesh.positions.begin(), mesh.positions.begin() + 251001);
        mesh.normals.insert(mesh.normals.end(), mesh.normals.begin(), mesh.normals.begin() + 251001);
    }
    mesh.uvSets.clear();
    const motion::Performance performance(fiveVoices(), mesh);
    std::vector<glm::vec3> hand(mesh.vertexCount());
    std::vector<glm::vec3> own(mesh.vertexCount());
    std::vector<glm::vec3> ownNormals(normals ? mesh.vertexCount() : 0);
    byHand(mesh.positions, static_cast<float>(kTurn), hand);
    performance.pose(kTurn, {}, own, ownNormals);
    float off = 0.0f;
    for (std::size_t v = 0; v < own.size(); ++v) {
        off = std::max(off, glm::distance(own[v], hand[v]));
    }
    state.counters["off_m"] = static_cast<double>(off); // they are the same score
    bench::against(
        state, [&] { performance.pose(kTurn, {}, own, ownNormals); },
        [&] { byHand(mesh.positions, static_cast<float>(kTurn), hand); });
    state.counters["bound"] = normals ? 3.0 : 1.5;
}

} // namespace

BENCHMARK_CAPTURE(evaluate, five_voices, false)->UseManualTime()->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(evaluate, five_voices_with_normals, true)->UseManualTime()->Unit(benchmark::kMillisecond);
