// A point cache of 65 536 vertices × 240 frames, baked with normals that are made from its triangles, and
// written as a bundle: against a plain numpy script that does the same work (plain_bake.py), and against the
// same bake without normals. Wanted: a fifth of the script's time at most, and at most 1.5 times the bake
// without normals.

#include "base/progress.h"
#include "bench/against.h"
#include "bench/point_cache.h"
#include "bundle/write_bundle.h"
#include "source/open.h"

#include <cstdlib>

using namespace ripple;

namespace {

const std::size_t kSide = bench::sized(256, 16);
const std::size_t kFrames = bench::sized(240, 8);

std::filesystem::path outFolder() {
    return bench::folderOf("plain-out");
}

void bakeSheet(const char* normals) {
    bake::Recipe recipe;
    recipe.normalStore = normals;
    recipe.closing = bake::Closing::asIs;
    base::Progress progress;
    const auto source = source::open(bench::wavingSheet(kSide, kFrames), {}, progress, std::size_t{32} << 20);
    bundle::writeBundle(*source, recipe, {}, outFolder() / "sheet", progress);
}

void againstScript(benchmark::State& state) {
    const auto cache = bench::wavingSheet(kSide, kFrames);
    // The machine's own Python, which sees Debian's packages.
    const std::string command = "/usr/bin/python3 " BENCH_FOLDER "/plain_bake.py '" + cache.string() + "' '" +
                                (cache.parent_path() / "sheet.obj").string() + "' '" + outFolder().string() +
                                "'";
    bool ran = true;
    bench::against(
        state, [] { bakeSheet("unorm8"); }, [&] { ran = std::system(command.c_str()) == 0 && ran; });
    if (!ran) {
        state.SkipWithError("the script did not run: it needs the packages of bench/packages.txt");
    }
    state.counters["bound"] = 0.2;
}
BENCHMARK(againstScript)->UseManualTime()->Iterations(bench::times(3))->Unit(benchmark::kSecond);

void againstNoNormals(benchmark::State& state) {
    bench::against(
        state, [] { bakeSheet("unorm8"); }, [] { bakeSheet("none"); });
    state.counters["bound"] = 1.5;
}
BENCHMARK(againstNoNormals)->UseManualTime()->Iterations(bench::times(5))->Unit(benchmark::kSecond);

} // namespace
