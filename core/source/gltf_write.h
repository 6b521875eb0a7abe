#pragma once

#include "base/files.h"
#include "mesh/mesh.h"
#include "source/gltf_library.h"

#include <span>
#include <string>

#include <glm/vec2.hpp>

namespace ripple::source {

/// Appends typed arrays to a model's one buffer, each with its view and accessor.
class GltfPacking {
public:
    explicit GltfPacking(tinygltf::Model& model) : model_(model) { model_.buffers.resize(1); }

    /// Index of the new accessor. `target`: TINYGLTF_TARGET_…, 0 for animation and skin data.
    template <typename T>
    int add(std::span<const T> values, int componentType, int type, int target) {
        tinygltf::Accessor accessor;
        accessor.bufferView = addView(std::as_bytes(values), target);
        accessor.componentType = componentType;
        accessor.type = type;
        accessor.count = values.size();
        model_.accessors.push_back(std::move(accessor));
        return static_cast<int>(model_.accessors.size()) - 1;
    }
    /// Index of the new buffer view.
    int addView(std::span<const std::byte> bytes, int target);
    tinygltf::Accessor& accessor(int index) { return model_.accessors[static_cast<std::size_t>(index)]; }

private:
    tinygltf::Model& model_;
};

/// The mesh in its rest pose as a glTF 2.0 model: one node without a transform, one primitive per part with
/// its own range of vertices in the mesh's order, all UV sets and `furtherUvSet` (vertexCount, or empty) as
/// the next one, materials with their base-colour images. No vertex is dropped or joined.
tinygltf::Model gltfModel(const mesh::Mesh& mesh, const std::string& name,
                          std::span<const glm::vec2> furtherUvSet);

/// The model as a GLB file.
base::Bytes glbBytes(const tinygltf::Model& model, const std::string& where);

} // namespace ripple::source
