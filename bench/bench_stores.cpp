// Encoding positions on one core, against memcpy of the same input. At least a third of its rate: at most 3
// times.

#include "bake/store.h"
#include "bench/against.h"

#include <cstring>
#include <random>

using namespace ripple;

namespace {

void encode(benchmark::State& state, const char* name) {
    const bake::PositionStore& store = bake::positionStore(name);
    std::vector<glm::vec3> values(bench::sized(1 << 20, 1 << 10));
    std::mt19937 random(1);
    std::uniform_real_distribution<float> unit(-1.0f, 1.0f);
    for (glm::vec3& v : values) {
        v = {unit(random), unit(random), unit(random)};
    }
    const bake::Range range{glm::vec3(-1), glm::vec3(1)};
    std::vector<std::byte> texels(values.size() * sizeof(glm::vec3));
    std::vector<std::byte> low(values.size() * 3);
    std::byte* planes[] = {texels.data(), low.data()};
    std::vector<std::byte> copy(values.size() * sizeof(glm::vec3));
    bench::against(
        state, [&] { store.encode(values, range, planes); },
        [&] {
            std::memcpy(copy.data(), values.data(), copy.size());
            benchmark::DoNotOptimize(copy.data());
            benchmark::ClobberMemory();
        });
    state.counters["bound"] = 3.0;
}
BENCHMARK_CAPTURE(encode, half, "half")->UseManualTime()->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(encode, unorm16, "unorm16")->UseManualTime()->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(encode, unorm8x2, "unorm8x2")->UseManualTime()->Unit(benchmark::kMillisecond);

} // namespace
