// A point cache of 1 000 000 vertices × 60 frames, baked and written as a bundle: how much memory that takes
// at its peak, above what its textures take by themselves. Bound: 400 MB. The time is set against writing the
// textures' bytes to a file.

#include "base/files.h"
#include "base/progress.h"
#include "bench/against.h"
#include "bench/point_cache.h"
#include "bundle/write_bundle.h"
#include "source/open.h"

#include <filesystem>
#include <fstream>

#include <malloc.h>

using namespace ripple;

namespace {

const std::size_t kSide = bench::sized(1000, 20);
const std::size_t kFrames = bench::sized(60, 4);

void largeBake(benchmark::State& state, const char* store) {
    const auto file = bench::wavingSheet(kSide, kFrames);
    const auto out = bench::folderOf("large") / "out";
    bake::Recipe recipe;
    recipe.positionStore = store;
    recipe.maxWidth = 8192;
    double above = 0.0;
    double textures = 0.0;
    double seconds = 0.0;
    for (auto _ : state) {
        ::mallopt(M_MMAP_THRESHOLD, 1 << 20); // as the command does
        ::malloc_trim(0);
        std::ofstream("/proc/self/clear_refs") << "5"; // the peak begins anew
        const double before = bench::memory("VmRSS");
        base::Progress progress;
        seconds = bench::seconds([&] {
            // As the command does: a small cache, for each frame is asked for once or twice.
            const auto source = source::open(file, {}, progress, std::size_t{32} << 20);
            const bundle::Manifest manifest = bundle::writeBundle(*source, recipe, {}, out, progress);
            textures = 0.0;
            for (const bake::TextureFormat& texture : manifest.textures.textures) {
                textures += static_cast<double>(texture.width * texture.height *
                                                (texture.channels * image::bytesPer(texture.pixel)));
            }
        });
        textures /= 1048576.0;
        above = bench::memory("VmHWM") - before - textures;
        state.SetIterationTime(seconds);
    }
    base::Bytes bytes(static_cast<std::size_t>(textures * 1048576.0));
    const double plain = bench::seconds([&] { base::writeFile(out.string() + ".bytes", bytes); });
    std::filesystem::remove(out.string() + ".bytes");
    std::filesystem::remove_all(out);
    state.counters["textures_MB"] = textures;
    state.counters["above_MB"] = above;
    state.counters["bound_MB"] = 400.0;
    state.counters["x_baseline"] = seconds / plain;
}
BENCHMARK_CAPTURE(largeBake, half, "half")->UseManualTime()->Iterations(1)->Unit(benchmark::kSecond);
BENCHMARK_CAPTURE(largeBake, unorm16, "unorm16")->UseManualTime()->Iterations(1)->Unit(benchmark::kSecond);

} // namespace
