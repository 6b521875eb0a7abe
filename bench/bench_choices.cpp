// The Bake bench's answers to a person: what follows on another store or content, and the cost ladder.
//
// "another_store": the numbers of a bake of 20 164 vertices × 120 frames made anew from poses in memory
// (encode, columns, error at all instants), against copying those poses six times; bound: 0.15 s, counter
// "seconds". "ladder": every rung of the awning, from nothing but its files read before, against encoding and
// measuring a single rung; bound: 2 s.

#include "base/progress.h"
#include "bake/error.h"
#include "bake/ladder.h"
#include "bench/against.h"
#include "bench/formula_source.h"
#include "demo/make_demo.h"
#include "mesh/test_shapes.h"
#include "source/open.h"

#include <cmath>
#include <cstring>
#include <filesystem>

using namespace ripple;

namespace {

const std::size_t kSide = bench::sized(142, 12); // 20 164 vertices
const std::size_t kFrames = bench::sized(120, 8);

/// A waving sheet: every vertex moves in every frame.
class Waves : public bench::FormulaSource {
public:
    Waves() : FormulaSource(kSide, kSide, 2.0f, kFrames) {}
    void sample(std::size_t, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        const auto t = static_cast<float>(seconds);
        for (std::size_t v = 0; v < positions.size(); ++v) {
            const glm::vec3& rest = mesh().positions[v];
            const float slope = 0.6f * std::cos(6.0f * (rest.x - t)) / std::sqrt(1.36f);
            positions[v] = rest + glm::vec3(0.0f, 0.1f * std::sin(6.0f * (rest.x - t)),
                                            0.02f * std::sin(9.0f * t * rest.z));
            if (!normals.empty()) {
                normals[v] = {-slope, std::sqrt(1.0f - slope * slope), 0.0f};
            }
        }
    }
};

void anotherStore(benchmark::State& state, const char* store, const char* normals) {
    static const Waves source;
    bake::Recipe recipe;
    recipe.positionStore = store;
    recipe.normalStore = normals;
    const bake::SamplePlan plan = bake::planSampling(source, recipe);
    const bake::Frames frames = bake::sampleFrames(source, plan);
    const bake::Frames probes = bake::sampleProbes(source, plan);
    base::RawVector<glm::vec3> copy(frames.positions.size());
    std::vector<double> seconds;
    bench::against(
        state,
        [&] {
            seconds.push_back(bench::seconds([&] {
                const bake::Baked baked = bake::encodeFrames(source, plan, frames, recipe);
                const bake::TextureReader reader = baked.reader(source.mesh());
                benchmark::DoNotOptimize(
                    bake::measureError(source, plan, {&frames, &probes}, reader, baked.textures.clips));
            }));
        },
        [&] {
            for (int i = 0; i < 3; ++i) {
                std::memcpy(static_cast<void*>(copy.data()), frames.positions.data(),
                            copy.size() * sizeof(glm::vec3));
                benchmark::DoNotOptimize(copy.data());
                std::memcpy(static_cast<void*>(copy.data()), frames.normals.data(),
                            copy.size() * sizeof(glm::vec3));
                benchmark::DoNotOptimize(copy.data());
                benchmark::ClobberMemory();
            }
        });
    state.counters["seconds"] = *std::min_element(seconds.begin(), seconds.end());
    state.counters["bound_s"] = 0.15;
}
BENCHMARK_CAPTURE(anotherStore, half, "half", "unorm8")->UseManualTime()->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(anotherStore, unorm16_oct16, "unorm16", "oct16")
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(anotherStore, unorm8x2, "unorm8x2", "unorm8")
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond);

void ladder(benchmark::State& state) {
    const auto folder = bench::folderOf("choices");
    demo::makeAwning(folder, bench::sized(120, 40), {});
    const auto source = source::open(folder / "awning_####.obj", {}, {});
    bake::Recipe recipe;
    recipe.closing = bake::Closing::fade;
    const bake::SamplePlan plan = bake::planSampling(*source, recipe);
    const bake::Frames frames = bake::sampleFrames(*source, plan);
    std::vector<double> seconds;
    bench::against(
        state,
        [&] {
            seconds.push_back(bench::seconds([&] {
                // As the application does: with the poses of its bake.
                benchmark::DoNotOptimize(bake::climbLadder(*source, recipe, {}, {}, {}, {&plan, &frames}));
            }));
        },
        [&] {
            benchmark::DoNotOptimize(bake::climbLadder(*source, recipe, {false, false, false, false, false},
                                                       {}, {}, {&plan, &frames}));
        });
    state.counters["seconds"] = *std::min_element(seconds.begin(), seconds.end());
    state.counters["bound_s"] = 2.0;
}
BENCHMARK(ladder)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(bench::times(3));

} // namespace
