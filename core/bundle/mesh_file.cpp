#include "bundle/mesh_file.h"

#include "source/gltf_write.h"

namespace ripple::bundle {

std::size_t freeUvSet(const mesh::Mesh& mesh) {
    return mesh.uvSets.size();
}

base::Bytes encodeMesh(const mesh::Mesh& mesh, std::span<const glm::vec2> lookup, const std::string& name) {
    return source::glbBytes(source::gltfModel(mesh, name, lookup), name + ".glb");
}

} // namespace ripple::bundle
