// Skinning 100 000 vertices × 4 influences on one core, against writing the same output alone.
//
// What bounds it is arithmetic, not memory: a vertex takes some 28 four-wide multiplications and additions to
// blend its matrices, 6 for the position, 14 for the normal's cofactor product, and a square root and a
// division. That is about 50 cycles, where writing its 24 bytes takes 5. "positionsOnlyByGlm" compares with a
// plain loop that leaves the normals out (its baseline is our whole skinning).

#include "bench/against.h"
#include "source/skinning.h"

#include <random>

#include <glm/geometric.hpp>
#include <glm/gtc/matrix_transform.hpp>

using namespace ripple;

namespace {

struct Body {
    source::SkinWeights weights;
    std::vector<glm::mat4> palette;
    std::vector<glm::vec3> rest, unposedNormals, positions, normals;

    explicit Body(std::size_t count) : rest(count), unposedNormals(count), positions(count), normals(count) {
        std::mt19937 random(1);
        std::uniform_real_distribution<float> unit(-1.0f, 1.0f);
        for (int j = 0; j < 64; ++j) {
            palette.push_back(glm::rotate(glm::translate(glm::mat4(1.0f), {unit(random), 0, 0}), unit(random),
                                          glm::vec3(0, 1, 0)));
        }
        for (std::size_t v = 0; v < count; ++v) {
            rest[v] = {unit(random), unit(random), unit(random)};
            unposedNormals[v] = glm::normalize(rest[v] + glm::vec3(0, 0, 2));
            // Neighbours follow neighbouring joints, as in a real mesh.
            const auto first = static_cast<std::uint16_t>(v * 60 / count);
            for (std::uint16_t i = 0; i < 4; ++i) {
                weights.joints.push_back(static_cast<std::uint16_t>(first + i));
                weights.weights.push_back(0.25f);
            }
        }
    }
};

/// The blend and the position, without normals: what the formula alone costs.
void positionsOnly(const Body& body, std::span<glm::vec3> out) {
    for (std::size_t v = 0; v < out.size(); ++v) {
        glm::mat4 m(0.0f);
        for (std::size_t i = 0; i < 4; ++i) {
            m += body.weights.weights[4 * v + i] * body.palette[body.weights.joints[4 * v + i]];
        }
        out[v] = glm::vec3(m * glm::vec4(body.rest[v], 1.0f));
    }
}

void positionsOnlyByGlm(benchmark::State& state) {
    Body body(bench::sized(100000, 1000));
    bench::against(
        state, [&] { positionsOnly(body, body.positions); },
        [&] {
            source::skin(body.weights, body.palette, body.rest, body.unposedNormals, body.positions,
                         body.normals);
        });
}
BENCHMARK(positionsOnlyByGlm)->UseManualTime()->Unit(benchmark::kMillisecond);

void skinning(benchmark::State& state) {
    Body body(bench::sized(100000, 1000));
    bench::against(
        state,
        [&] {
            source::skin(body.weights, body.palette, body.rest, body.unposedNormals, body.positions,
                         body.normals);
        },
        [&] {
            // The same bytes to the same places, with nothing computed.
            std::fill(body.positions.begin(), body.positions.end(), glm::vec3(1, 2, 3));
            std::fill(body.normals.begin(), body.normals.end(), glm::vec3(0, 1, 0));
            benchmark::ClobberMemory();
        });
    state.counters["bound"] = 3.0;
}
BENCHMARK(skinning)->UseManualTime()->Unit(benchmark::kMillisecond);

} // namespace
