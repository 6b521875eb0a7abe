#include "bundle/levels.h"

#include "bake/texture_reader.h"
#include "base/progress.h"
#include "bundle/instants.h"
#include "source/gltf_write.h"

#include <algorithm>
#include <cstring>
#include <numbers>
#include <optional>

namespace ripple::bundle {

namespace {

constexpr double kPixelsHigh = 1080.0;
constexpr double kFieldOfView = std::numbers::pi / 3.0;
/// Poses that levels are measured in take no more than this.
constexpr std::size_t kPoseBytes = std::size_t{200} << 20;

/// How many triangles an accessor of indices has; none where it is no such one, or has indices beyond
/// `vertices`.
std::optional<std::size_t> trianglesIn(const tinygltf::Model& model, std::size_t index,
                                       std::size_t vertices) {
    if (index >= model.accessors.size()) {
        return std::nullopt;
    }
    const tinygltf::Accessor& accessor = model.accessors[index];
    if (accessor.type != TINYGLTF_TYPE_SCALAR ||
        accessor.componentType != TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT || accessor.bufferView < 0) {
        return std::nullopt;
    }
    const tinygltf::BufferView& view = model.bufferViews[static_cast<std::size_t>(accessor.bufferView)];
    const std::vector<unsigned char>& data = model.buffers[static_cast<std::size_t>(view.buffer)].data;
    const std::size_t first = view.byteOffset + accessor.byteOffset;
    if (first > data.size() || (data.size() - first) / sizeof(std::uint32_t) < accessor.count) {
        return std::nullopt;
    }
    std::vector<std::uint32_t> indices(accessor.count);
    std::memcpy(indices.data(), data.data() + first, indices.size() * sizeof(std::uint32_t));
    const bool inside = std::ranges::all_of(indices, [&](std::uint32_t i) { return i < vertices; });
    return inside ? std::optional(indices.size() / 3) : std::nullopt;
}

} // namespace

std::vector<scatter::Level> levelsOf(const mesh::Mesh& mesh, const bake::TextureReader& reader,
                                     std::span<const bake::BakedClip> clips, std::size_t count,
                                     const base::Progress& progress) {
    if (count == 0) {
        return {};
    }
    const std::size_t vertices = mesh.vertexCount();
    const std::vector<Instant> all = someInstants(clips);
    const std::size_t room = std::max<std::size_t>(1, kPoseBytes / (vertices * sizeof(glm::vec3)));
    const std::size_t step = (all.size() + room - 1) / room;
    std::vector<glm::vec3> poses(mesh.positions);
    for (std::size_t i = 0; i < all.size(); i += step) {
        progress.checkpoint();
        poses.resize(poses.size() + vertices);
        reader.at(clips[all[i].clip], all[i].frame, std::span(poses).last(vertices), {});
    }
    return scatter::makeLevels(mesh, poses, count, progress);
}

std::vector<LevelEntry> addLevels(const mesh::Mesh& mesh, std::span<const scatter::Level> levels,
                                  tinygltf::Model& model) {
    std::vector<LevelEntry> entries;
    source::GltfPacking packing(model);
    for (std::size_t l = 0; l < levels.size(); ++l) {
        const scatter::Level& level = levels[l];
        LevelEntry entry;
        entry.triangles = level.count();
        entry.error = level.error;
        entry.distance = scatter::distanceFor(level.error, 1.0, kPixelsHigh, kFieldOfView);
        tinygltf::Mesh made;
        made.name = model.meshes[0].name + " level " + std::to_string(l + 1);
        for (std::size_t p = 0; p < mesh.parts.size(); ++p) {
            const mesh::Coarse::Range& range = level.triangles.parts[p];
            std::vector<std::uint32_t> indices(
                level.triangles.indices.begin() + static_cast<std::ptrdiff_t>(range.firstIndex),
                level.triangles.indices.begin() +
                    static_cast<std::ptrdiff_t>(range.firstIndex + range.indexCount));
            for (std::uint32_t& index : indices) { // a primitive has its own vertices
                index -= mesh.parts[p].firstVertex;
            }
            tinygltf::Primitive primitive = model.meshes[0].primitives[p];
            primitive.extras = {};
            primitive.indices =
                packing.add(std::span<const std::uint32_t>(indices), TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT,
                            TINYGLTF_TYPE_SCALAR, TINYGLTF_TARGET_ELEMENT_ARRAY_BUFFER);
            entry.accessors.push_back(static_cast<std::size_t>(primitive.indices));
            made.primitives.push_back(std::move(primitive));
        }
        model.meshes.push_back(std::move(made));
        entries.push_back(std::move(entry));
    }
    return entries;
}

nlohmann::ordered_json levelsJson(std::span<const LevelEntry> levels) {
    nlohmann::ordered_json list = nlohmann::ordered_json::array();
    for (const LevelEntry& level : levels) {
        list.push_back({{"accessors", level.accessors},
                        {"triangles", level.triangles},
                        {"error_m", level.error},
                        {"distance_m", level.distance}});
    }
    return list;
}

std::vector<LevelEntry> parseLevels(const base::JsonSection& root) {
    std::vector<LevelEntry> levels;
    if (!root.has("levels")) {
        return levels;
    }
    constexpr std::size_t kMost = std::size_t{1} << 32;
    for (const base::JsonSection& each : root.list("levels")) {
        LevelEntry level;
        for (const base::JsonSection& accessor : each.list("accessors")) {
            level.accessors.push_back(accessor.count(kMost));
        }
        level.triangles = each.count("triangles", kMost);
        level.error = each.number("error_m");
        level.distance = each.number("distance_m");
        levels.push_back(std::move(level));
    }
    return levels;
}

std::vector<base::Problem> problemsOfLevels(const std::filesystem::path& glb,
                                            std::span<const LevelEntry> levels) {
    std::vector<base::Problem> problems;
    if (levels.empty()) {
        return problems;
    }
    tinygltf::Model model;
    tinygltf::TinyGLTF loader;
    loader.SetImageLoader([](auto...) { return true; }, nullptr); // pictures are not looked at
    std::string error;
    std::string warning;
    const base::Bytes bytes = base::readFile(glb);
    const bool read = loader.LoadBinaryFromMemory(&model, &error, &warning,
                                                  reinterpret_cast<const unsigned char*>(bytes.data()),
                                                  static_cast<unsigned>(bytes.size()));
    const auto wrong = [&](std::size_t level, const char* what) {
        problems.push_back({glb.filename().string(),
                            "its level of detail " + std::to_string(level + 1) + " " + what,
                            "the mesh was changed; write the bundle again"});
    };
    for (std::size_t l = 0; l < levels.size(); ++l) {
        const LevelEntry& level = levels[l];
        if (!read || model.meshes.empty() || level.accessors.size() != model.meshes[0].primitives.size()) {
            wrong(l, "is not there");
            continue;
        }
        std::optional<std::size_t> triangles = 0;
        for (std::size_t p = 0; p < level.accessors.size() && triangles; ++p) {
            const int position = model.meshes[0].primitives[p].attributes.at("POSITION");
            const auto own = trianglesIn(model, level.accessors[p],
                                         model.accessors[static_cast<std::size_t>(position)].count);
            triangles = own ? std::optional(*triangles + *own) : std::nullopt;
        }
        if (!triangles) {
            wrong(l, "has indices of no vertex");
        } else if (*triangles != level.triangles) {
            wrong(l, "has another number of triangles than the manifest says");
        }
    }
    return problems;
}

} // namespace ripple::bundle
