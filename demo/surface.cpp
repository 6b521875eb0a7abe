#include "demo/surface.h"

#include "base/files.h"
#include "image/png.h"
#include "mesh/faults.h"
#include "mesh/normals.h"
#include "source/gltf_write.h"

#include <cmath>
#include <map>
#include <numeric>
#include <tuple>

#include <glm/common.hpp>

namespace ripple::demo {

void SurfaceMesh::add(const Patch& patch) {
    if (mesh_.uvSets.empty()) {
        mesh_.uvSets.emplace_back();
    }
    const auto first = static_cast<std::uint32_t>(mesh_.vertexCount());
    const auto wide = static_cast<std::uint32_t>(patch.columns + 1);
    for (std::size_t r = 0; r <= patch.rows; ++r) {
        for (std::size_t c = 0; c <= patch.columns; ++c) {
            const float u = static_cast<float>(c) / static_cast<float>(patch.columns);
            const float v = static_cast<float>(r) / static_cast<float>(patch.rows);
            mesh_.positions.push_back(patch.at(u, v));
            mesh_.uvSets[0].push_back(glm::mix(patch.uvFrom, patch.uvTo, glm::vec2(u, v)));
            mesh_.colours.push_back(patch.colour);
            stored_.push_back(patch.stored);
        }
    }
    for (std::uint32_t r = 0; r < patch.rows; ++r) {
        for (std::uint32_t c = 0; c < patch.columns; ++c) {
            const std::uint32_t a = first + r * wide + c;
            const std::uint32_t below = a + wide;
            for (const auto& t : {std::array{a, below, a + 1}, std::array{a + 1, below, below + 1}}) {
                // At a pole the cells are triangles.
                const glm::vec3* p = mesh_.positions.data();
                if (p[t[0]] != p[t[1]] && p[t[1]] != p[t[2]] && p[t[2]] != p[t[0]]) {
                    mesh_.indices.insert(mesh_.indices.end(), t.begin(), t.end());
                }
            }
        }
    }
}

mesh::Mesh SurfaceMesh::finish(const std::string& name, const std::string& storedName) {
    std::map<std::tuple<long, long, long>, std::uint32_t> groups;
    for (const glm::vec3& p : mesh_.positions) {
        constexpr float kMicrometre = 1e6f / 4.0f;
        const auto key = std::tuple(std::lround(p.x * kMicrometre), std::lround(p.y * kMicrometre),
                                    std::lround(p.z * kMicrometre));
        mesh_.smoothGroup.push_back(
            groups.try_emplace(key, static_cast<std::uint32_t>(groups.size())).first->second);
    }
    mesh_.normals.resize(mesh_.vertexCount());
    mesh::NormalBuilder(mesh_.indices, mesh_.vertexCount(), mesh_.smoothGroup)
        .build(mesh_.positions, mesh_.normals);
    mesh_.stored.push_back({storedName, stored_});
    mesh_.parts.push_back({name, 0, 0, static_cast<std::uint32_t>(mesh_.vertexCount()), 0,
                           static_cast<std::uint32_t>(mesh_.indices.size())});
    mesh_.materials.resize(1);
    // Poles have vertices that no triangle uses.
    std::vector<std::uint32_t> same(mesh_.vertexCount());
    std::iota(same.begin(), same.end(), 0u);
    std::vector<char> unused(mesh_.vertexCount(), 0);
    for (const std::uint32_t v : mesh::unusedVertices(mesh_)) {
        unused[v] = 1;
    }
    std::vector<std::uint32_t> kept;
    mesh::Mesh whole = mesh::without(mesh_, std::vector<char>(mesh_.triangleCount(), 0), same, unused, kept);
    whole.materials.clear();
    return whole;
}

image::Image paint(std::size_t side, bool alpha, const std::function<glm::vec4(float u, float v)>& colour) {
    image::Image picture(side, side, alpha ? 4 : 3, image::Pixel::u8);
    for (std::size_t y = 0; y < side; ++y) {
        for (std::size_t x = 0; x < side; ++x) {
            const glm::vec4 c = glm::clamp(colour((static_cast<float>(x) + 0.5f) / static_cast<float>(side),
                                                  (static_cast<float>(y) + 0.5f) / static_cast<float>(side)),
                                           0.0f, 1.0f);
            for (int k = 0; k < (alpha ? 4 : 3); ++k) {
                picture.texel(x, y)[k] = static_cast<std::byte>(std::lround(255.0f * c[k]));
            }
        }
    }
    return picture;
}

void writeModel(mesh::Mesh mesh, const std::string& name, const image::Image& texture, bool twoSided,
                const std::filesystem::path& file) {
    mesh::Material material;
    material.name = name;
    material.doubleSided = twoSided;
    material.alphaMode = texture.channels == 4 ? mesh::AlphaMode::mask : mesh::AlphaMode::opaque;
    auto image = std::make_shared<mesh::EncodedImage>();
    image->name = name + ".png";
    image->mimeType = "image/png";
    image->bytes = image::encodePng(texture);
    material.baseColourImage = std::move(image);
    mesh.materials.push_back(std::move(material));
    base::writeFile(file, source::glbBytes(source::gltfModel(mesh, name, {}), file.string()));
}

} // namespace ripple::demo
