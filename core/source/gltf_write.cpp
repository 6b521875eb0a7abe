#include "source/gltf_write.h"

#include "base/problem.h"
#include "base/version.h"
#include "mesh/bounds.h"

#include <algorithm>
#include <sstream>

#include <tiny_gltf.h>

namespace ripple::source {

namespace {

constexpr int kVertices = TINYGLTF_TARGET_ARRAY_BUFFER;
constexpr int kFloat = TINYGLTF_COMPONENT_TYPE_FLOAT;

int wrapCode(mesh::Wrap wrap) {
    return wrap == mesh::Wrap::clamp    ? TINYGLTF_TEXTURE_WRAP_CLAMP_TO_EDGE
           : wrap == mesh::Wrap::mirror ? TINYGLTF_TEXTURE_WRAP_MIRRORED_REPEAT
                                        : TINYGLTF_TEXTURE_WRAP_REPEAT;
}

tinygltf::Value transformValue(const mesh::UvTransform& from) {
    const auto pair = [](const glm::vec2& v) {
        return tinygltf::Value(tinygltf::Value::Array{tinygltf::Value(static_cast<double>(v.x)),
                                                      tinygltf::Value(static_cast<double>(v.y))});
    };
    return tinygltf::Value(
        tinygltf::Value::Object{{"offset", pair(from.offset)},
                                {"rotation", tinygltf::Value(static_cast<double>(from.rotation))},
                                {"scale", pair(from.scale)}});
}

void addMaterial(tinygltf::Model& model, GltfPacking& packing, const mesh::Material& from) {
    tinygltf::Material material;
    material.name = from.name;
    for (int c = 0; c < 4; ++c) {
        material.pbrMetallicRoughness.baseColorFactor.resize(4);
        material.pbrMetallicRoughness.baseColorFactor[static_cast<std::size_t>(c)] =
            static_cast<double>(from.baseColour[c]);
    }
    material.pbrMetallicRoughness.metallicFactor = 0.0;
    material.alphaMode = from.alphaMode == mesh::AlphaMode::mask    ? "MASK"
                         : from.alphaMode == mesh::AlphaMode::blend ? "BLEND"
                                                                    : "OPAQUE";
    material.alphaCutoff = static_cast<double>(from.alphaCutoff);
    material.doubleSided = from.doubleSided;
    if (from.baseColourImage) {
        tinygltf::Image image;
        image.name = from.baseColourImage->name;
        image.mimeType = from.baseColourImage->mimeType;
        image.bufferView = packing.addView(from.baseColourImage->bytes, 0);
        model.images.push_back(std::move(image));
        tinygltf::Sampler sampler;
        sampler.wrapS = wrapCode(from.wrapU);
        sampler.wrapT = wrapCode(from.wrapV);
        model.samplers.push_back(sampler);
        tinygltf::Texture texture;
        texture.source = static_cast<int>(model.images.size()) - 1;
        texture.sampler = static_cast<int>(model.samplers.size()) - 1;
        model.textures.push_back(texture);
        material.pbrMetallicRoughness.baseColorTexture.index = static_cast<int>(model.textures.size()) - 1;
        material.pbrMetallicRoughness.baseColorTexture.texCoord = static_cast<int>(from.baseColourUvSet);
        if (from.baseColourTransform != mesh::UvTransform{}) {
            material.pbrMetallicRoughness.baseColorTexture.extensions["KHR_texture_transform"] =
                transformValue(from.baseColourTransform);
            auto& used = model.extensionsUsed;
            if (std::find(used.begin(), used.end(), "KHR_texture_transform") == used.end()) {
                used.push_back("KHR_texture_transform");
            }
        }
    }
    model.materials.push_back(std::move(material));
}

tinygltf::Primitive packPart(GltfPacking& packing, const mesh::Mesh& mesh, const mesh::Part& part,
                             std::span<const glm::vec2> furtherUvSet) {
    const auto range = [&](const auto& values) {
        return std::span(values).subspan(part.firstVertex, part.vertexCount);
    };
    tinygltf::Primitive primitive;
    primitive.mode = TINYGLTF_MODE_TRIANGLES;
    primitive.material = static_cast<int>(part.material);
    const std::span<const glm::vec3> positions = range(mesh.positions);
    const int position = packing.add(positions, kFloat, TINYGLTF_TYPE_VEC3, kVertices);
    mesh::Bounds bounds;
    bounds.add(positions);
    for (int a = 0; a < 3; ++a) {
        packing.accessor(position).minValues.push_back(static_cast<double>(bounds.min[a]));
        packing.accessor(position).maxValues.push_back(static_cast<double>(bounds.max[a]));
    }
    primitive.attributes["POSITION"] = position;
    const std::span<const glm::vec3> normals = range(mesh.normals);
    primitive.attributes["NORMAL"] = packing.add(normals, kFloat, TINYGLTF_TYPE_VEC3, kVertices);
    if (!mesh.tangents.empty()) {
        const std::span<const glm::vec4> tangents = range(mesh.tangents);
        primitive.attributes["TANGENT"] = packing.add(tangents, kFloat, TINYGLTF_TYPE_VEC4, kVertices);
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
        const std::span<const glm::vec4> colours = range(mesh.colours);
        primitive.attributes["COLOR_0"] = packing.add(colours, kFloat, TINYGLTF_TYPE_VEC4, kVertices);
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
    out.name = name;
    for (const mesh::Part& part : mesh.parts) {
        out.primitives.push_back(packPart(packing, mesh, part, furtherUvSet));
    }
    for (const mesh::Material& material : mesh.materials) {
        addMaterial(model, packing, material);
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
