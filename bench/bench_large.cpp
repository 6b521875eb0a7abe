// A point cache of 1 000 000 vertices × 60 frames, baked and written as a bundle: how much memory that takes
// at its peak, above what its textures take by themselves. Bound: 400 MB. The time is set against writing the
// textures' bytes to a file.

#include "base/files.h"
#include "bench/against.h"
#include "bundle/write_bundle.h"
#include "source/open.h"

#include <cmath>
#include <cstring>
#include <filesystem>
#include <fstream>

#include <malloc.h>

using namespace ripple;

namespace {

constexpr std::size_t kSide = 1000;
constexpr std::size_t kFrames = 60;

void put(std::ofstream& out, const void* bytes, std::size_t count) {
    out.write(static_cast<const char*>(bytes), static_cast<std::streamsize>(count));
}

/// The cache and its mesh, made once.
std::filesystem::path cacheFile() {
    const auto folder = std::filesystem::temp_directory_path() / "ripple-bench-large";
    if (std::filesystem::exists(folder / "done")) {
        return folder / "sheet.pc2";
    }
    std::filesystem::create_directories(folder);
    std::ofstream obj(folder / "sheet.obj");
    for (std::size_t v = 0; v < kSide * kSide; ++v) {
        obj << "v " << static_cast<double>(v % kSide) * 0.01 << " 0 " << static_cast<double>(v / kSide) * 0.01
            << "\n";
    }
    for (std::size_t z = 0; z + 1 < kSide; ++z) {
        for (std::size_t x = 0; x + 1 < kSide; ++x) {
            const std::size_t a = z * kSide + x + 1;
            obj << "f " << a << ' ' << a + kSide << ' ' << a + kSide + 1 << ' ' << a + 1 << "\n";
        }
    }
    std::ofstream cache(folder / "sheet.pc2", std::ios::binary);
    const std::int32_t header[] = {1, static_cast<std::int32_t>(kSide * kSide)};
    const float times[] = {0.0f, 1.0f};
    const std::int32_t frames = kFrames;
    put(cache, "POINTCACHE2", 12);
    put(cache, header, sizeof header);
    put(cache, times, sizeof times);
    put(cache, &frames, sizeof frames);
    std::vector<float> row(kSide * 3);
    for (std::size_t f = 0; f < kFrames; ++f) {
        for (std::size_t z = 0; z < kSide; ++z) {
            for (std::size_t x = 0; x < kSide; ++x) {
                const double wave =
                    0.2 * std::sin(0.011 * static_cast<double>(x) + 0.1 * static_cast<double>(f)) +
                    0.03 * std::sin(0.07 * static_cast<double>(z) - 0.2 * static_cast<double>(f));
                row[x * 3] = static_cast<float>(x) * 0.01f;
                row[x * 3 + 1] = static_cast<float>(wave);
                row[x * 3 + 2] = static_cast<float>(z) * 0.01f;
            }
            put(cache, row.data(), row.size() * sizeof(float));
        }
    }
    std::ofstream(folder / "done") << "done";
    return folder / "sheet.pc2";
}

/// "VmHWM" or "VmRSS" of this process, MB.
double memory(const std::string& key) {
    std::ifstream status("/proc/self/status");
    std::string line;
    while (std::getline(status, line)) {
        if (line.rfind(key, 0) == 0) {
            return std::stod(line.substr(key.size() + 1)) / 1024.0;
        }
    }
    return 0.0;
}

void largeBake(benchmark::State& state, const char* store) {
    const auto file = cacheFile();
    const auto out = std::filesystem::temp_directory_path() / "ripple-bench-large-out";
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
        const double before = memory("VmRSS");
        base::Progress progress;
        seconds = bench::seconds([&] {
            // As the command does: a small cache, for each frame is asked for once or twice.
            const auto source = source::open(file, {}, progress, std::size_t{32} << 20);
            const bundle::Manifest manifest = bundle::writeBundle(*source, recipe, {}, out, progress);
            textures = 0.0;
            for (const bake::Texture& texture : manifest.textures.textures) {
                textures += static_cast<double>(texture.image.width * texture.image.height *
                                                texture.image.bytesPerTexel());
            }
        });
        textures /= 1048576.0;
        above = memory("VmHWM") - before - textures;
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
