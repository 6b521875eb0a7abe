#include "source/gltf_materials.h"

#include <algorithm>

#include <tiny_gltf.h>

namespace ripple::source {

namespace {

mesh::Wrap wrapOf(int code) {
    return code == TINYGLTF_TEXTURE_WRAP_CLAMP_TO_EDGE     ? mesh::Wrap::clamp
           : code == TINYGLTF_TEXTURE_WRAP_MIRRORED_REPEAT ? mesh::Wrap::mirror
                                                           : mesh::Wrap::repeat;
}

double number(const tinygltf::Value& from, const char* key, int element, double otherwise) {
    if (!from.Has(key)) {
        return otherwise;
    }
    const tinygltf::Value& value = from.Get(key);
    if (element < 0) {
        return value.IsNumber() ? value.GetNumberAsDouble() : otherwise;
    }
    const bool there = value.IsArray() && static_cast<std::size_t>(element) < value.ArrayLen();
    return there && value.Get(element).IsNumber() ? value.Get(element).GetNumberAsDouble() : otherwise;
}

void readTransform(const tinygltf::TextureInfo& info, mesh::Material& material) {
    const auto found = info.extensions.find("KHR_texture_transform");
    if (found == info.extensions.end() || !found->second.IsObject()) {
        return;
    }
    const tinygltf::Value& from = found->second;
    const auto at = [&](const char* key, int element, double otherwise) {
        return static_cast<float>(number(from, key, element, otherwise));
    };
    material.baseColourTransform = {{at("offset", 0, 0.0), at("offset", 1, 0.0)},
                                    at("rotation", -1, 0.0),
                                    {at("scale", 0, 1.0), at("scale", 1, 1.0)}};
    material.baseColourUvSet = static_cast<std::size_t>(
        std::max(number(from, "texCoord", -1, static_cast<double>(material.baseColourUvSet)), 0.0));
}

void readTexture(const GltfDocument& document, const tinygltf::TextureInfo& info, mesh::Material& material,
                 base::Findings& findings) {
    const tinygltf::Model& model = *document.model;
    if (info.index < 0 || static_cast<std::size_t>(info.index) >= model.textures.size()) {
        return;
    }
    material.baseColourUvSet = static_cast<std::size_t>(std::max(info.texCoord, 0));
    readTransform(info, material);
    const tinygltf::Texture& texture = model.textures[static_cast<std::size_t>(info.index)];
    if (texture.sampler >= 0 && static_cast<std::size_t>(texture.sampler) < model.samplers.size()) {
        const tinygltf::Sampler& sampler = model.samplers[static_cast<std::size_t>(texture.sampler)];
        material.wrapU = wrapOf(sampler.wrapS);
        material.wrapV = wrapOf(sampler.wrapT);
    }
    if (texture.source < 0 || static_cast<std::size_t>(texture.source) >= model.images.size()) {
        return;
    }
    const tinygltf::Image& image = model.images[static_cast<std::size_t>(texture.source)];
    if (image.image.empty()) {
        findings.push_back({"texture-missing",
                            base::Severity::look,
                            {document.at("image", static_cast<std::size_t>(texture.source)),
                             "\"" + image.uri + "\" could not be read",
                             "put the file beside the model; the colour factor is shown"}});
        return;
    }
    auto encoded = std::make_shared<mesh::EncodedImage>();
    encoded->name = image.name.empty() ? image.uri : image.name;
    encoded->mimeType = image.mimeType;
    const auto* begin = reinterpret_cast<const std::byte*>(image.image.data());
    encoded->bytes.assign(begin, begin + image.image.size());
    material.baseColourImage = std::move(encoded);
}

} // namespace

std::vector<mesh::Material> readGltfMaterials(const GltfDocument& document, base::Findings& findings) {
    std::vector<mesh::Material> materials;
    for (const tinygltf::Material& from : document.model->materials) {
        mesh::Material material;
        material.name = from.name;
        const auto& pbr = from.pbrMetallicRoughness;
        if (pbr.baseColorFactor.size() == 4) {
            for (int c = 0; c < 4; ++c) {
                material.baseColour[c] = static_cast<float>(pbr.baseColorFactor[static_cast<std::size_t>(c)]);
            }
        }
        readTexture(document, pbr.baseColorTexture, material, findings);
        material.alphaMode = from.alphaMode == "MASK"    ? mesh::AlphaMode::mask
                             : from.alphaMode == "BLEND" ? mesh::AlphaMode::blend
                                                         : mesh::AlphaMode::opaque;
        material.alphaCutoff = static_cast<float>(from.alphaCutoff);
        material.doubleSided = from.doubleSided;
        materials.push_back(std::move(material));
    }
    // The specification's default material, for parts that name none.
    materials.emplace_back();
    return materials;
}

} // namespace ripple::source
