// Joints of the heron's three clips in a texture, against the vertices of the same clips: from the opened
// source to encoded images in memory. Bound: 100 ms, counter "seconds"; the texture memory against the
// vertices', counter "memory_ratio", under a tenth.

#include "bake/bake.h"
#include "bake/kind.h"
#include "bench/against.h"
#include "demo/make_demo.h"
#include "source/open.h"

#include <filesystem>

using namespace ripple;

namespace {

std::shared_ptr<const source::FrameSource> heron() {
    static const auto source = [] {
        const auto file = bench::folderOf("joints") / "heron.glb";
        demo::makeHeron(file);
        return source::open(file);
    }();
    return source;
}

void joints(benchmark::State& state) {
    const auto source = heron();
    const bake::Recipe vertices;
    const bake::Recipe joints = bake::withKind({}, bake::kJoints);
    std::size_t small = 0;
    std::size_t large = 0;
    std::vector<double> seconds;
    bench::against(
        state,
        [&] {
            seconds.push_back(
                bench::seconds([&] { small = bake::bake(*source, joints).textures.textureMemory(); }));
        },
        [&] { large = bake::bake(*source, vertices).textures.textureMemory(); });
    state.counters["seconds"] = *std::min_element(seconds.begin(), seconds.end());
    state.counters["bound_s"] = 0.1;
    state.counters["memory_ratio"] = static_cast<double>(small) / static_cast<double>(large);
}

BENCHMARK(joints)->UseManualTime()->Unit(benchmark::kMillisecond);

} // namespace
