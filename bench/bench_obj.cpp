// Reading an OBJ sequence, against tinyobjloader on the same files: at most a fifth of its time.

#include "base/parallel.h"
#include "base/progress.h"
#include "bench/against.h"
#include "demo/make_demo.h"
#include "source/file_sequence.h"
#include "source/open.h"

#include <filesystem>

#include <tiny_obj_loader.h>

using namespace ripple;

namespace {

/// 24 frames of the demo's awning, made once.
const std::filesystem::path& frames() {
    static const std::filesystem::path folder = [] {
        const auto path = bench::folderOf("awning");
        demo::makeAwning(path, bench::sized(24, 4), base::Progress());
        return path;
    }();
    return folder;
}

void objSequence(benchmark::State& state, std::size_t threads) {
    const std::filesystem::path pattern = frames() / "awning_####.obj";
    const source::FileSequence files = source::findSequence(pattern);
    const base::ThreadLimit limit(threads);
    bench::against(
        state,
        [&] {
            // Frames are read when they are asked for: all of them.
            const auto source = source::open(pattern);
            base::parallelFor(files.files.size(), 1, [&](std::size_t begin, std::size_t end) {
                std::vector<glm::vec3> positions(source->mesh().vertexCount());
                for (std::size_t f = begin; f < end; ++f) {
                    source->sample(0, static_cast<double>(f) / 30.0, positions, {});
                }
            });
        },
        [&] {
            for (const auto& file : files.files) {
                tinyobj::attrib_t attributes;
                std::vector<tinyobj::shape_t> shapes;
                std::vector<tinyobj::material_t> materials;
                std::string warning;
                std::string error;
                tinyobj::LoadObj(&attributes, &shapes, &materials, &warning, &error, file.c_str(),
                                 frames().c_str());
                benchmark::DoNotOptimize(attributes);
            }
        });
    state.counters["bound"] = 0.2;
}
BENCHMARK_CAPTURE(objSequence, one_thread, 1)->UseManualTime()->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(objSequence, two_threads, 2)->UseManualTime()->Unit(benchmark::kMillisecond);

} // namespace
