#include "bundle/mesh_file.h"

#include "mesh/uv_sets.h"
#include "source/gltf_write.h"

#include <algorithm>

namespace ripple::bundle {

std::size_t pivotUvSet(const mesh::Mesh& mesh, std::size_t lookupSet) {
    return std::max(mesh.uvSets.size(), lookupSet + 1);
}

base::Bytes encodeMesh(const mesh::Mesh& mesh, std::span<const glm::vec2> lookup, std::size_t lookupSet,
                       const PivotUvs& pivots, const std::string& name) {
    if (lookupSet == mesh.uvSets.size() && pivots.pivots.empty()) {
        return source::glbBytes(source::gltfModel(mesh, name, lookup), name + ".glb");
    }
    mesh::Mesh withLookup = mesh;
    while (withLookup.uvSets.size() <= lookupSet) {
        withLookup.uvSets.emplace_back(mesh.vertexCount(), glm::vec2(0.0f));
    }
    withLookup.uvSets[lookupSet].assign(lookup.begin(), lookup.end());
    if (!pivots.pivots.empty()) {
        std::vector<glm::vec2> across;
        std::vector<glm::vec2> rest;
        for (const std::uint32_t piece : pivots.pieceOfVertex) {
            const glm::vec3& pivot = pivots.pivots[piece];
            across.push_back({pivot.x, pivot.y});
            rest.push_back({pivot.z, static_cast<float>(piece)});
        }
        withLookup.uvSets.push_back(std::move(across));
        withLookup.uvSets.push_back(std::move(rest));
    }
    return source::glbBytes(source::gltfModel(withLookup, name, {}), name + ".glb");
}

} // namespace ripple::bundle
