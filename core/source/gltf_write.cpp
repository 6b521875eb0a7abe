#include "source/gltf_write.h"

#include "base/problem.h"
#include "base/version.h"
#include "mesh/bounds.h"
#include "mesh/normals.h"
#include "mesh/tangents.h"
#include "source/gltf_library.h"
#include "source/material_detail.h"
#include "source/material_writer.h"

#include <algorithm>
#include <map>
#include <sstream>

#include <glm/common.hpp>

namespace ripple::source {

namespace {

constexpr int kVertices = TINYGLTF_TARGET_ARRAY_BUFFER;
constexpr int kFloat = TINYGLTF_COMPONENT_TYPE_FLOAT;

tinygltf::Primitive packPart(GltfPacking& packing, const mesh::Mesh& mesh, const mesh::Part& part,
                             int material, std::span<const glm::vec2> furtherUvSet) {
    const auto range = [&](const auto& values) {
        return std::span(values).subspan(part.firstVertex, part.vertexCount);
    };
    tinygltf::Primitive primitive;
    primitive.mode = TINYGLTF_MODE_TRIANGLES;
    primitive.material = material;
    const std::span<const glm::vec3> positions = range(mesh.positions);
    const int position = packing.add(positions, kFloat, TINYGLTF_TYPE_VEC3, kVertices);
    mesh::Bounds bounds;
    bounds.add(positions);
    for (int a = 0; a < 3; ++a) {
        packing.accessor(position).minValues.push_back(static_cast<double>(bounds.min[a]));
        packing.accessor(position).maxValues.push_back(static_cast<double>(bounds.max[a]));
    }
    primitive.attributes["POSITION"] = position;
    const std::vector<glm::vec3> normals = mesh::filledNormals(range(mesh.normals));
    primitive.attributes["NORMAL"] =
        packing.add(std::span<const glm::vec3>(normals), kFloat, TINYGLTF_TYPE_VEC3, kVertices);
    if (!mesh.tangents.empty()) {
        const std::span<const glm::vec4> tangents = range(mesh.tangents);
        primitive.attributes["TANGENT"] = packing.add(tangents, kFloat, TINYGLTF_TYPE_VEC4, kVertices);
    } else if (const auto set = normalMapUvSet(mesh.materials[part.material]);
               set && *set < mesh.uvSets.size()) {
        // Else each importer would make its own.
        std::vector<std::uint32_t> indices;
        for (const std::uint32_t index : std::span(mesh.indices).subspan(part.firstIndex, part.indexCount)) {
            indices.push_back(index - part.firstVertex);
        }
        const std::vector<glm::vec4> made =
            mesh::tangentsFromUvs(positions, normals, range(mesh.uvSets[*set]), indices);
        primitive.attributes["TANGENT"] =
            packing.add(std::span<const glm::vec4>(made), kFloat, TINYGLTF_TYPE_VEC4, kVertices);
    }
    const std::size_t sets = mesh.uvSets.size() + (furtherUvSet.empty() ? 0 : 1);
    for (std::size_t set = 0; set < sets; ++set) {
        const std::span<const glm::vec2> uvs =
            set < mesh.uvSets.size() ? range(mesh.uvSets[set]) : range(furtherUvSet);
        primitive.attributes["TEXCOORD_" + std::to_string(set)] =
            packing.add(uvs, kFloat, TINYGLTF_TYPE_VEC2, kVertices);
    }
    for (const mesh::StoredValue& stored : mesh.stored) {
        const std::span<const float> values = range(stored.values);
        primitive.attributes["_" + stored.name] =
            packing.add(values, kFloat, TINYGLTF_TYPE_SCALAR, kVertices);
    }
    if (!mesh.colours.empty()) {
        std::vector<glm::vec4> colours;
        for (const glm::vec4& colour : range(mesh.colours)) { // the format holds no others
            colours.push_back(glm::clamp(colour, 0.0f, 1.0f));
        }
        primitive.attributes["COLOR_0"] =
            packing.add(std::span<const glm::vec4>(colours), kFloat, TINYGLTF_TYPE_VEC4, kVertices);
    }
    const std::span<const std::uint32_t> indices =
        std::span(mesh.indices).subspan(part.firstIndex, part.indexCount);
    constexpr int kIndices = TINYGLTF_TARGET_ELEMENT_ARRAY_BUFFER;
    if (part.vertexCount < 65535) {
        std::vector<std::uint16_t> small;
        for (const std::uint32_t index : indices) {
            small.push_back(static_cast<std::uint16_t>(index - part.firstVertex));
        }
        primitive.indices =
            packing.add(std::span<const std::uint16_t>(small), TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT,
                        TINYGLTF_TYPE_SCALAR, kIndices);
    } else {
        std::vector<std::uint32_t> own;
        for (const std::uint32_t index : indices) {
            own.push_back(index - part.firstVertex);
        }
        primitive.indices = packing.add(std::span<const std::uint32_t>(own),
                                        TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT, TINYGLTF_TYPE_SCALAR, kIndices);
    }
    return primitive;
}

} // namespace

int GltfPacking::addView(std::span<const std::byte> bytes, int target) {
    auto& data = model_.buffers[0].data;
    data.resize((data.size() + 3) / 4 * 4, 0);
    tinygltf::BufferView view;
    view.buffer = 0;
    view.byteOffset = data.size();
    view.byteLength = bytes.size();
    view.target = target;
    const auto* begin = reinterpret_cast<const unsigned char*>(bytes.data());
    data.insert(data.end(), begin, begin + bytes.size());
    model_.bufferViews.push_back(std::move(view));
    return static_cast<int>(model_.bufferViews.size()) - 1;
}

tinygltf::Model gltfModel(const mesh::Mesh& mesh, const std::string& name,
                          std::span<const glm::vec2> furtherUvSet) {
    tinygltf::Model model;
    model.asset.version = "2.0";
    model.asset.generator = base::generatorName();
    GltfPacking packing(model);
    tinygltf::Mesh out;
    const bool oneMesh = std::all_of(mesh.parts.begin(), mesh.parts.end(),
                                     [&](const mesh::Part& part) { return part.name == mesh.parts[0].name; });
    out.name = oneMesh && !mesh.parts.empty() && !mesh.parts[0].name.empty() ? mesh.parts[0].name : name;
    MaterialWriter materials(model, packing);
    std::map<std::size_t, int> written; // only what a part uses, in the mesh's order
    for (const mesh::Part& part : mesh.parts) {
        written[part.material] = -1;
    }
    for (auto& [material, index] : written) {
        index = materials.add(mesh.materials[material]);
    }
    for (const mesh::Part& part : mesh.parts) {
        out.primitives.push_back(packPart(packing, mesh, part, written.at(part.material), furtherUvSet));
        if (part.name != out.name) {
            tinygltf::Value::Object extras;
            extras["name"] = tinygltf::Value(part.name); // the format has no names for primitives
            out.primitives.back().extras = tinygltf::Value(std::move(extras));
        }
    }
    model.meshes.push_back(std::move(out));
    tinygltf::Node node;
    node.name = name;
    node.mesh = 0;
    model.nodes.push_back(std::move(node));
    tinygltf::Scene scene;
    scene.nodes.push_back(0);
    model.scenes.push_back(std::move(scene));
    model.defaultScene = 0;
    return model;
}

base::Bytes glbBytes(const tinygltf::Model& model, const std::string& where) {
    std::ostringstream stream;
    tinygltf::TinyGLTF writer;
    if (!writer.WriteGltfSceneToStream(&model, stream, false, true)) {
        base::fail(where, "the mesh could not be packed as GLB", "report this as a fault of the program");
    }
    const std::string text = stream.str();
    const auto bytes = base::asBytes(text);
    return base::Bytes(bytes.begin(), bytes.end());
}

} // namespace ripple::source
