// A whole bake of 65 536 vertices × 240 frames to half (sampling, columns, encoding, all files of the bundle
// in memory), against what the EXR library alone needs for the same pixels with the same threads. At most
// twice.
//
// "positions" bakes what the baseline writes. "with_normals" has a second texture beside it, as a PNG of the
// same size, which the baseline knows nothing of.

#include "bake/bake.h"
#include "bench/against.h"
#include "bundle/write_bundle.h"
#include "image/exr.h"
#include "source/frame_source.h"

using namespace ripple;

namespace {

const auto kSide = static_cast<std::uint32_t>(bench::sized(256, 16));
const std::size_t kFrames = bench::sized(240, 8);

/// A sheet under a cheap shear that differs in every vertex and frame: what is measured is the bake, not its
/// source.
class Sheet : public source::FrameSource {
public:
    Sheet() {
        for (std::size_t v = 0; v < kSide * kSide; ++v) {
            mesh_.positions.push_back({static_cast<float>(v % kSide) / static_cast<float>(kSide), 0.0f,
                                       static_cast<float>(v / kSide) / static_cast<float>(kSide)});
            mesh_.normals.push_back({0.0f, 1.0f, 0.0f});
        }
        for (std::uint32_t v = 0; v + kSide + 1 < kSide * kSide; ++v) {
            mesh_.indices.insert(mesh_.indices.end(), {v, v + kSide, v + 1});
        }
        mesh_.parts.push_back(
            {"sheet", 0, 0, kSide * kSide, 0, static_cast<std::uint32_t>(mesh_.indices.size())});
        mesh_.materials.emplace_back();
    }
    const mesh::Mesh& mesh() const override { return mesh_; }
    std::span<const source::Clip> clips() const override { return {&clip_, 1}; }
    std::span<const source::MeshEntry> meshes() const override { return {}; }
    std::span<const base::Finding> findings() const override { return {}; }
    std::string format() const override { return "formula"; }
    void sample(std::size_t, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        const auto t = static_cast<float>(seconds);
        for (std::size_t v = 0; v < positions.size(); ++v) {
            const glm::vec3& rest = mesh_.positions[v];
            positions[v] = rest + t * glm::vec3(0.1f * rest.z, 0.2f * rest.x * rest.z, 0.05f * rest.x);
            if (!normals.empty()) {
                normals[v] = {0.1f * t * rest.x, 1.0f - 0.05f * t * rest.z, 0.1f * t * rest.z};
            }
        }
    }

private:
    mesh::Mesh mesh_;
    source::Clip clip_{"clip", 0.0, static_cast<double>(kFrames - 1) / 30.0, kFrames, 30.0};
};

/// A sheet of 200 000 vertices over which a pulse runs that lifts a share of it at a time: what rests is
/// alike in most frames.
class Pulse : public source::FrameSource {
public:
    explicit Pulse(float share) : share_(share) {
        const std::size_t vertices = bench::sized(200000, 400);
        for (std::size_t v = 0; v < vertices; ++v) {
            mesh_.positions.push_back({static_cast<float>(v) / static_cast<float>(vertices), 0.0f, 0.0f});
            mesh_.normals.push_back({0.0f, 1.0f, 0.0f});
        }
        mesh_.indices = {0, 1, 2};
        mesh_.parts.push_back({"sheet", 0, 0, static_cast<std::uint32_t>(vertices), 0, 3});
        mesh_.materials.emplace_back();
    }
    const mesh::Mesh& mesh() const override { return mesh_; }
    std::span<const source::Clip> clips() const override { return {&clip_, 1}; }
    std::span<const source::MeshEntry> meshes() const override { return {}; }
    std::span<const base::Finding> findings() const override { return {}; }
    std::string format() const override { return "formula"; }
    void sample(std::size_t, double seconds, std::span<glm::vec3> positions,
                std::span<glm::vec3> normals) const override {
        const auto front = static_cast<float>(seconds / clip_.duration);
        for (std::size_t v = 0; v < positions.size(); ++v) {
            const float x = mesh_.positions[v].x;
            const float behind = front - x;
            const bool lifted = behind >= 0.0f && behind < share_;
            positions[v] = {0.0f, lifted ? behind * (share_ - behind) : 0.0f, 0.0f};
            if (!normals.empty()) {
                normals[v] = {0.0f, 1.0f, 0.0f};
            }
        }
    }

private:
    float share_;
    mesh::Mesh mesh_;
    source::Clip clip_{"clip", 0.0, 39.0 / 30.0, 40, 30.0};
};

const Sheet& sheet() {
    static const Sheet source;
    return source;
}

void wholeBake(benchmark::State& state, const char* normals) {
    bake::Recipe recipe;
    recipe.positionStore = "half";
    recipe.normalStore = normals;
    recipe.maxWidth = 16384;
    const image::Image pixels = bake::bake(sheet(), recipe).textures.image(bake::kPosition);
    bench::against(
        state,
        [&] {
            // As the bundle is made: textures, mesh, code, digests.
            benchmark::DoNotOptimize(bundle::encodeBundle(sheet(), bake::bake(sheet(), recipe), "sheet", {}));
        },
        [&] { benchmark::DoNotOptimize(image::encodeExr(pixels)); });
    state.counters["bound"] = 2.0;
}
BENCHMARK_CAPTURE(wholeBake, positions, "none")
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond)
    ->Iterations(bench::times(3));
BENCHMARK_CAPTURE(wholeBake, with_normals, "unorm8")
    ->UseManualTime()
    ->Unit(benchmark::kMillisecond)
    ->Iterations(bench::times(3));

/// A narrow pulse against a wide one: sharing columns takes as long for any motion.
void narrowPulse(benchmark::State& state) {
    const Pulse narrow(0.1f);
    const Pulse wide(1.0f);
    bake::Recipe recipe;
    recipe.positionStore = "float32";
    recipe.maxWidth = 16384;
    bench::against(
        state, [&] { benchmark::DoNotOptimize(bake::bake(narrow, recipe)); },
        [&] { benchmark::DoNotOptimize(bake::bake(wide, recipe)); });
    state.counters["bound"] = 1.5;
}
BENCHMARK(narrowPulse)->UseManualTime()->Unit(benchmark::kMillisecond)->Iterations(bench::times(5));

} // namespace
