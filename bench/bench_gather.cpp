// The Gather bench at 600 frames × 20 000 vertices: how soon something is there, how fast frames are read,
// what the likeness costs, how much memory a sequence takes that is larger than its cache.
//
// "first pose" compares opening and posing with plainly reading all files of the sequence; bound: 1 s,
// counter "seconds". "PLY, all frames" and "PC2, all frames" compare with reading (copying) the same bytes.
// "likeness" compares with the direct sum of squared differences over a thirtieth of the frame pairs, times
// thirty; bound: 1 s.

#include "base/files.h"
#include "base/mapped_file.h"
#include "base/parallel.h"
#include "base/progress.h"
#include "bench/against.h"
#include "inspect/survey.h"
#include "source/open.h"

#include <atomic>
#include <cmath>
#include <cstring>
#include <filesystem>
#include <fstream>

#include <glm/geometric.hpp>

using namespace ripple;

namespace {

const std::size_t kFrames = bench::sized(600, 40);
const std::size_t kWide = bench::sized(142, 12); // 20 164 vertices
const std::size_t kVertices = kWide * kWide;

glm::vec3 pointAt(std::size_t v, std::size_t frame) {
    const double u = static_cast<double>(v % kWide) / static_cast<double>(kWide);
    const double w = static_cast<double>(v / kWide) / static_cast<double>(kWide);
    const double t = static_cast<double>(frame) / 150.0;
    return {static_cast<float>(2.0 * u),
            static_cast<float>(0.2 * std::sin(6.28 * (t + u)) + 0.05 * std::sin(17.0 * t * w)),
            static_cast<float>(2.0 * w)};
}

void append(std::string& out, const void* bytes, std::size_t count) {
    out.append(static_cast<const char*>(bytes), count);
}

/// The waving sheet as binary PLY files and as a PC2 cache with its OBJ, made once.
const std::filesystem::path& files() {
    static const std::filesystem::path folder = [] {
        const auto path = bench::folderOf("gather");
        if (std::filesystem::exists(path / "done")) {
            return path;
        }
        std::string faces;
        std::string obj;
        std::size_t triangles = 0;
        for (std::uint32_t z = 0; z + 1 < kWide; ++z) {
            for (std::uint32_t x = 0; x + 1 < kWide; ++x) {
                const auto a = static_cast<std::uint32_t>(z * kWide + x);
                const auto b = static_cast<std::uint32_t>(a + kWide);
                for (const auto& t : {std::array{a, b, a + 1}, std::array{a + 1, b, b + 1}}) {
                    faces.push_back(3);
                    append(faces, t.data(), 12);
                    obj += "f " + std::to_string(t[0] + 1) + " " + std::to_string(t[1] + 1) + " " +
                           std::to_string(t[2] + 1) + "\n";
                    ++triangles;
                }
            }
        }
        std::string cache("POINTCACHE2\0", 12);
        const std::uint32_t head[] = {1, static_cast<std::uint32_t>(kVertices), 0, 0x3F800000u,
                                      static_cast<std::uint32_t>(kFrames)};
        append(cache, head, sizeof head);
        std::string vertices;
        for (std::size_t f = 0; f < kFrames; ++f) {
            std::string ply =
                "ply\nformat binary_little_endian 1.0\nelement vertex " + std::to_string(kVertices) +
                "\nproperty float x\nproperty float y\nproperty float z\nelement face " +
                std::to_string(triangles) + "\nproperty list uchar int vertex_indices\nend_header\n";
            for (std::size_t v = 0; v < kVertices; ++v) {
                const glm::vec3 p = pointAt(v, f);
                append(ply, &p, sizeof p);
                append(cache, &p, sizeof p);
                if (f == 0) {
                    vertices += "v " + std::to_string(p.x) + " " + std::to_string(p.y) + " " +
                                std::to_string(p.z) + "\n";
                }
            }
            ply += faces;
            base::writeFile(path / ("sheet_" + std::to_string(1000 + f) + ".ply"), ply);
        }
        base::writeFile(path / "sheet.obj", vertices + obj);
        base::writeFile(path / "sheet.pc2", cache);
        base::writeFile(path / "done", std::string_view("yes"));
        return path;
    }();
    return folder;
}

void readEverything() {
    for (std::size_t f = 0; f < kFrames; ++f) {
        benchmark::DoNotOptimize(base::readFile(files() / ("sheet_" + std::to_string(1000 + f) + ".ply")));
    }
}

void firstPose(benchmark::State& state) {
    double longest = 0.0;
    bench::against(
        state,
        [&] {
            longest = std::max(longest, bench::seconds([&] {
                                   const auto source = source::open(files() / "sheet_1000.ply");
                                   std::vector<glm::vec3> p(kVertices);
                                   std::vector<glm::vec3> n(kVertices);
                                   source->sample(0, 0.0, p, n);
                                   benchmark::DoNotOptimize(p);
                               }));
        },
        readEverything);
    state.counters["seconds"] = longest;
    state.counters["bound_seconds"] = 1.0;
}
BENCHMARK(firstPose)->UseManualTime()->Unit(benchmark::kMillisecond);

/// Every frame once, on all threads. Positions only.
void playThrough(const source::FrameSource& source) {
    base::parallelFor(kFrames, 4, [&](std::size_t begin, std::size_t end) {
        std::vector<glm::vec3> p(source.mesh().vertexCount());
        for (std::size_t f = begin; f < end; ++f) {
            source.sample(0, static_cast<double>(f) / source.clips()[0].fps, p, {});
        }
    });
}

void plyFrames(benchmark::State& state) {
    bench::against(
        state,
        [&] {
            const auto source = source::open(files() / "sheet_1000.ply");
            playThrough(*source);
        },
        readEverything);
}
BENCHMARK(plyFrames)->UseManualTime()->Unit(benchmark::kMillisecond);

void pc2Frames(benchmark::State& state) {
    const auto source = source::open(files() / "sheet.pc2");
    bench::against(
        state, [&] { playThrough(*source); },
        [&] {
            const base::MappedFile file(files() / "sheet.pc2");
            std::vector<std::byte> copy(file.bytes().size());
            std::memcpy(copy.data(), file.bytes().data(), copy.size());
            benchmark::DoNotOptimize(copy);
        });
}
BENCHMARK(pc2Frames)->UseManualTime()->Unit(benchmark::kMillisecond);

void likeness(benchmark::State& state) {
    inspect::PoseTable table;
    table.frames = kFrames;
    table.vertices = kVertices;
    table.points.resize(kFrames * kVertices);
    for (std::size_t f = 0; f < kFrames; ++f) {
        for (std::size_t v = 0; v < kVertices; ++v) {
            table.points[f * kVertices + v] = pointAt(v, f);
        }
    }
    double longest = 0.0;
    bench::against(
        state,
        [&] {
            longest = std::max(
                longest, bench::seconds([&] { benchmark::DoNotOptimize(inspect::measureLikeness(table)); }));
        },
        [&] {
            float sum = 0.0f;
            for (std::size_t i = 0; i < kFrames; i += 30) {
                for (std::size_t j = 0; j < kFrames; ++j) {
                    for (std::size_t v = 0; v < kVertices; ++v) {
                        const glm::vec3 d = table.of(i)[v] - table.of(j)[v];
                        sum += glm::dot(d, d);
                    }
                }
            }
            benchmark::DoNotOptimize(sum);
        });
    state.counters["seconds"] = longest;
    state.counters["bound_seconds"] = 1.0;
    state.counters["x_baseline"] = state.counters["x_baseline"] / 30.0;
}
BENCHMARK(likeness)->UseManualTime()->Unit(benchmark::kMillisecond);

/// Surveys the sequence with a cache of an eighth of its size: the most memory it takes beyond what was in
/// use.
void peakMemory(benchmark::State& state) {
    const std::size_t kWhole = kFrames * kVertices * sizeof(glm::vec3);
    double most = 0.0;
    for (auto _ : state) {
        std::ofstream("/proc/self/clear_refs") << "5"; // the high-water mark starts anew
        const double before = bench::memory("VmRSS");
        const auto source = source::open(files() / "sheet_1000.ply", {}, {}, kWhole / 8);
        base::Progress progress;
        benchmark::DoNotOptimize(inspect::survey(*source, {}, progress));
        most = std::max(most, bench::memory("VmHWM") - before);
    }
    state.counters["peak_MB"] = most;
    state.counters["sequence_MB"] = static_cast<double>(kWhole) / 1048576.0;
    state.counters["x_baseline"] = most / (static_cast<double>(kWhole) / 1048576.0);
}
BENCHMARK(peakMemory)->Iterations(1)->Unit(benchmark::kMillisecond);

} // namespace
