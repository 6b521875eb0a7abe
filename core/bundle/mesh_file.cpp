#include "bundle/mesh_file.h"

#include "mesh/uv_sets.h"
#include "source/gltf_write.h"

namespace ripple::bundle {

base::Bytes encodeMesh(const mesh::Mesh& mesh, std::span<const glm::vec2> lookup, const std::string& name) {
    const std::size_t set = mesh::freeUvSet(mesh);
    if (set == mesh.uvSets.size()) {
        return source::glbBytes(source::gltfModel(mesh, name, lookup), name + ".glb");
    }
    mesh::Mesh withLookup = mesh;
    withLookup.uvSets[set].assign(lookup.begin(), lookup.end());
    return source::glbBytes(source::gltfModel(withLookup, name, {}), name + ".glb");
}

} // namespace ripple::bundle
