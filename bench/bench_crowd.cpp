// Crowds on the processor: 20 000 copies that walk, change clips and fade, one step of a sixtieth of a
// second. Bound: 2 ms. One step back: 50 ms. And what a picture of 2 000 herons takes the processor where
// their clips lie in textures (their states are updated and packed for the graphics processor) against
// skinning each of them: bound: at most a hundredth.

#include "bake/bake.h"
#include "bake/kind.h"
#include "bench/against.h"
#include "demo/make_demo.h"
#include "scatter/crowd_history.h"
#include "scatter/scene.h"
#include "source/open.h"

#include <filesystem>

using namespace ripple;

namespace {

scatter::Asset heron() {
    static const scatter::Asset asset = [] {
        const auto file = bench::folderOf("crowd") / "heron.glb";
        demo::makeHeron(file);
        scatter::Asset made;
        made.source = source::open(file);
        const bake::SamplePlan plan = bake::planSampling(*made.source, {});
        made.frames = std::make_shared<const bake::Frames>(bake::sampleFrames(*made.source, plan));
        made.clips = bake::clipsOf(plan);
        return made;
    }();
    return asset;
}

scatter::Crowd crowdOf(std::size_t count) {
    const scatter::Asset asset = heron();
    scatter::Choices choices;
    choices.placement.count = count;
    choices.placement.size = {200.0f, 3.0f, 200.0f};
    choices.differences.leastSize = 0.8f;
    choices.differences.rateSpread = 0.1f;
    choices.travel = scatter::Travel::wander;
    const scatter::Placed placed = scatter::place(choices);
    const scatter::Measured measured = scatter::measure(choices, asset);
    return {scatter::crowdOf(choices, asset, measured), placed.copies, placed.ground};
}

void walking(benchmark::State& state) {
    scatter::Crowd crowd = crowdOf(bench::sized(20000, 20));
    crowd.goTo(5.0); // some fade by now
    double seconds = 5.0;
    for (auto _ : state) {
        seconds += 1.0 / scatter::Crowd::kStepsASecond;
        state.SetIterationTime(bench::seconds([&] { crowd.goTo(seconds); }));
    }
    state.counters["bound_ms"] = 2.0;
}
BENCHMARK(walking)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(bench::times(200));

/// One step back, at a minute from the beginning: as far as it gets from a moment that is kept.
void goingBack(benchmark::State& state) {
    scatter::CrowdHistory history(crowdOf(bench::sized(20000, 20)));
    const double far = bench::small() ? 3.0 : 60.0;
    for (auto _ : state) {
        history.goTo(far);
        state.SetIterationTime(
            bench::seconds([&] { history.goTo(far - 1.0 / scatter::Crowd::kStepsASecond); }));
    }
    state.counters["bound_ms"] = 50.0;
}
BENCHMARK(goingBack)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(bench::times(5));

void texturesAgainstSkinning(benchmark::State& state) {
    const std::size_t kHerons = bench::sized(2000, 2);
    scatter::Crowd crowd = crowdOf(kHerons);
    const scatter::Asset asset = heron();
    const std::size_t vertices = asset.source->mesh().vertexCount();
    std::vector<glm::vec3> positions(vertices);
    std::vector<glm::vec3> normals(vertices);
    std::vector<scatter::CopyState> uploaded;
    double seconds = 0.0;
    bench::against(
        state,
        [&] {
            seconds += 1.0 / scatter::Crowd::kStepsASecond;
            crowd.goTo(seconds);
            uploaded.assign(crowd.states().begin(), crowd.states().end());
            benchmark::DoNotOptimize(uploaded.data());
        },
        [&] {
            for (std::size_t c = 0; c < kHerons; ++c) {
                const scatter::CopyState& copy = crowd.states()[c];
                const auto& clip = asset.source->clips()[static_cast<std::size_t>(copy.clip)];
                bake::samplePose(*asset.source, {static_cast<std::size_t>(copy.clip), {}, {}},
                                 clip.start + static_cast<double>(copy.frame) / 30.0, positions, normals);
                benchmark::DoNotOptimize(positions.data());
            }
        });
    state.counters["bound_x"] = 0.01;
}
BENCHMARK(texturesAgainstSkinning)
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond)
    ->Iterations(bench::times(5));

} // namespace
