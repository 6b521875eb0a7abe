// What reading scene files in a program apart costs: a file of 100 MB and a small one, against the import
// library in this process, with the same scene made of what it reads. Wanted: at most 1.2 times as long for
// the large one, and 50 ms more for any.

#include "base/files.h"
#include "bench/against.h"
#include "importer/read.h"
#include "source/open.h"
#include "tests/spoil.h"

using namespace ripple;

namespace {

std::filesystem::path fileOf(std::uint32_t triangles) {
    const auto file = bench::folderOf("import") / (std::to_string(triangles) + ".stl");
    if (!std::filesystem::exists(file)) {
        base::writeFile(file, tests::binaryStl(triangles));
    }
    return file;
}

void importing(benchmark::State& state, std::uint32_t triangles) {
    const auto file = fileOf(triangles);
    bench::against(
        state, [&] { benchmark::DoNotOptimize(source::open(file)); },
        [&] {
            source::ImportedScene imported = importer::readScene(file, {});
            imported.scene.file = file.filename().string();
            imported.scene.geometry.mesh.materials.resize(imported.materials.size());
            benchmark::DoNotOptimize(source::playScene(std::move(imported.scene), {}));
        });
    state.counters["bound"] = 1.2; // of the large file; of the small one 50 ms over the baseline
}
BENCHMARK_CAPTURE(importing, large_file, static_cast<std::uint32_t>(bench::sized(2000000, 1000)))
    ->UseManualTime()
    ->Iterations(bench::times(9))
    ->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(importing, small_file, 100)->UseManualTime()->Iterations(bench::times(9))->Unit(benchmark::kMillisecond);

} // namespace
