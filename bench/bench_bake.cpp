// A whole bake of 65 536 vertices × 240 frames to half (sampling, columns, encoding, all files of the bundle
// in memory), against what the EXR library alone needs for the same pixels with the same threads. At most
// twice.
//
// "positions" bakes what the baseline writes. "with_normals" has a second texture beside it, as a PNG of the
// same size, which the baseline knows nothing of.

#include "bake/bake.h"
#include "bench/against.h"
#include "bench/formula_source.h"
#include "bundle/write_bundle.h"
#include "image/exr.h"

using namespace ripple;

namespace {

const auto kSide = static_cast<std::uint32_t>(bench::sized(256, 16));
const std::size_t kFrames = bench::sized(240, 8);

/// A sheet under a cheap shear that differs in every vertex and frame: what is measured is the bake, not its
/// source.
class Sheet : public bench::FormulaSource {
public:
    Sheet() : FormulaSource(kSide, kSide, 1.0f, kFrames) {}
    void sample(std::size_t, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        const auto t = static_cast<float>(seconds);
        for (std::size_t v = 0; v < positions.size(); ++v) {
            const glm::vec3& rest = mesh().positions[v];
            positions[v] = rest + t * glm::vec3(0.1f * rest.z, 0.2f * rest.x * rest.z, 0.05f * rest.x);
            if (!normals.empty()) {
                normals[v] = {0.1f * t * rest.x, 1.0f - 0.05f * t * rest.z, 0.1f * t * rest.z};
            }
        }
    }
};

/// A sheet of 200 000 vertices over which a pulse runs that lifts a share of it at a time: what rests is
/// alike in most frames.
class Pulse : public bench::FormulaSource {
public:
    explicit Pulse(float share)
        : FormulaSource(bench::sized(2000, 20), bench::sized(100, 20), 1.0f, 40),
          share_(share) {}
    void sample(std::size_t, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        const auto front = static_cast<float>(seconds / clips()[0].duration);
        for (std::size_t v = 0; v < positions.size(); ++v) {
            const float x = mesh().positions[v].x;
            const float behind = front - x;
            const bool lifted = behind >= 0.0f && behind < share_;
            positions[v] = {0.0f, lifted ? behind * (share_ - behind) : 0.0f, 0.0f};
            if (!normals.empty()) {
                normals[v] = {0.0f, 1.0f, 0.0f};
            }
        }
    }

private:
    float share_;
};

const Sheet& sheet() {
    static const Sheet source;
    return source;
}

void wholeBake(benchmark::State& state, const char* normals) {
    bake::Recipe recipe;
    recipe.positionStore = "half";
    recipe.normalStore = normals;
    recipe.maxWidth = 16384;
    const image::Image pixels = bake::bake(sheet(), recipe).textures.image(bake::kPosition);
    bench::against(
        state,
        [&] {
            // As the bundle is made: textures, mesh, code, digests.
            benchmark::DoNotOptimize(bundle::encodeBundle(sheet(), bake::bake(sheet(), recipe), "sheet", {}));
        },
        [&] { benchmark::DoNotOptimize(image::encodeExr(pixels)); });
    state.counters["bound"] = 2.0;
}
BENCHMARK_CAPTURE(wholeBake, positions, "none")
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond)
    ->Iterations(bench::times(3));
BENCHMARK_CAPTURE(wholeBake, with_normals, "unorm8")
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond)
    ->Iterations(bench::times(3));

/// A narrow pulse against a wide one: sharing columns takes as long for any motion.
void narrowPulse(benchmark::State& state) {
    const Pulse narrow(0.1f);
    const Pulse wide(1.0f);
    bake::Recipe recipe;
    recipe.positionStore = "float32";
    recipe.maxWidth = 16384;
    bench::against(
        state, [&] { benchmark::DoNotOptimize(bake::bake(narrow, recipe)); },
        [&] { benchmark::DoNotOptimize(bake::bake(wide, recipe)); });
    state.counters["bound"] = 1.5;
}
BENCHMARK(narrowPulse)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(bench::times(5));

} // namespace
