#include "scatter/copies_file.h"

#include "source/gltf_write.h"

#include <functional>

namespace ripple::scatter {

base::Bytes copiesGlb(const mesh::Mesh& mesh, const std::string& name, std::span<const Copy> copies) {
    constexpr const char* kExtension = "EXT_mesh_gpu_instancing";
    tinygltf::Model model = source::gltfModel(mesh, name, {});
    source::GltfPacking packing(model);
    tinygltf::Value::Object attributes;
    const auto add = [&]<typename Element>(const char* attribute, int type,
                                           const std::function<Element(const Copy&)>& of) {
        std::vector<Element> values;
        values.reserve(copies.size());
        for (const Copy& copy : copies) {
            values.push_back(of(copy));
        }
        const int accessor =
            packing.add(std::span<const Element>(values), TINYGLTF_COMPONENT_TYPE_FLOAT, type, 0);
        attributes[attribute] = tinygltf::Value(accessor);
    };
    using Vector = glm::vec3;
    using Four = glm::vec4;
    add.operator()<Vector>("TRANSLATION", TINYGLTF_TYPE_VEC3, [](const Copy& copy) { return copy.origin; });
    add.operator()<Four>("ROTATION", TINYGLTF_TYPE_VEC4, [](const Copy& copy) {
        return Four(copy.rotation.x, copy.rotation.y, copy.rotation.z, copy.rotation.w);
    });
    add.operator()<Vector>("SCALE", TINYGLTF_TYPE_VEC3,
                           [](const Copy& copy) { return Vector(copy.own.size); });
    const auto number = [&](const char* attribute, float (*of)(const Difference&)) {
        add.operator()<float>(attribute, TINYGLTF_TYPE_SCALAR,
                              [of](const Copy& copy) { return of(copy.own); });
    };
    number("_CLIP", [](const Difference& own) { return static_cast<float>(own.clip); });
    number("_START", [](const Difference& own) { return own.start; });
    number("_RATE", [](const Difference& own) { return own.rate; });
    number("_TINT", [](const Difference& own) { return own.tint; });
    number("_ID", [](const Difference& own) { return own.id; });
    tinygltf::Value::Object extension;
    extension["attributes"] = tinygltf::Value(std::move(attributes));
    model.nodes[0].extensions[kExtension] = tinygltf::Value(std::move(extension));
    model.extensionsUsed.push_back(kExtension);
    return source::glbBytes(model, name + ".glb");
}

} // namespace ripple::scatter
