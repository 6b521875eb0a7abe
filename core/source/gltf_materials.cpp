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

void readTexture(const GltfDocument& document, const tinygltf::TextureInfo& info, mesh::Material& material,
                 base::Findings& findings) {
    const tinygltf::Model& model = *document.model;
    if (info.index < 0 || static_cast<std::size_t>(info.index) >= model.textures.size()) {
        return;
    }
    material.baseColourUvSet = static_cast<std::size_t>(std::max(info.texCoord, 0));
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
