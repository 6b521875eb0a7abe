#include "source/gltf_materials.h"

#include "source/companions.h"
#include "source/material_detail.h"

#include <algorithm>
#include <map>

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

/// The document's image, or null with a finding.
std::shared_ptr<const mesh::EncodedImage> imageOf(const GltfDocument& document, int source,
                                                  base::Findings& findings) {
    const tinygltf::Model& model = *document.model;
    if (source < 0 || static_cast<std::size_t>(source) >= model.images.size()) {
        return nullptr;
    }
    const tinygltf::Image& image = model.images[static_cast<std::size_t>(source)];
    const auto* begin = reinterpret_cast<const std::byte*>(image.image.data());
    const std::string type = imageTypeOf({begin, image.image.size()});
    const bool empty = image.image.empty();
    const std::string fault = empty          ? "could not be read"
                              : type.empty() ? "is neither PNG nor JPEG"
                                             : imageFault({begin, image.image.size()});
    if (!fault.empty()) {
        findings.push_back({"texture-missing",
                            base::Severity::look,
                            {document.at("image", static_cast<std::size_t>(source)),
                             "\"" + (image.uri.empty() ? image.name : image.uri) + "\" " +
                                 (empty || type.empty() ? "" : "is ") + fault,
                             empty ? "put the file beside the model; the colour factor is shown"
                                   : "export it again; until then the colour factor is shown"}});
        return nullptr;
    }
    auto encoded = std::make_shared<mesh::EncodedImage>();
    encoded->name = image.name.empty() ? image.uri : image.name;
    encoded->mimeType = type;
    encoded->bytes.assign(begin, begin + image.image.size());
    return encoded;
}

std::shared_ptr<const std::vector<mesh::MaterialDetail::Texture>> readTextures(const GltfDocument& document,
                                                                               base::Findings& findings) {
    const tinygltf::Model& model = *document.model;
    std::map<int, std::shared_ptr<const mesh::EncodedImage>> images; // textures share them
    const auto image = [&](int source) {
        const auto [place, added] = images.try_emplace(source);
        if (added) {
            place->second = imageOf(document, source, findings);
        }
        return place->second;
    };
    auto textures = std::make_shared<std::vector<mesh::MaterialDetail::Texture>>();
    for (const tinygltf::Texture& from : model.textures) {
        mesh::MaterialDetail::Texture texture;
        texture.texture = from;
        texture.image = image(from.source);
        texture.hasSampler =
            from.sampler >= 0 && static_cast<std::size_t>(from.sampler) < model.samplers.size();
        if (texture.hasSampler) {
            texture.sampler = model.samplers[static_cast<std::size_t>(from.sampler)];
        }
        for (const auto& [name, value] : from.extensions) {
            if (value.IsObject() && value.Has("source") && value.Get("source").IsInt()) {
                if (auto further = image(value.Get("source").GetNumberAsInt())) {
                    texture.further[name] = std::move(further);
                }
            }
        }
        textures->push_back(std::move(texture));
    }
    return textures;
}

/// What is drawn: the base colour's image and where it lies.
void takeBaseColour(const tinygltf::TextureInfo& info,
                    const std::vector<mesh::MaterialDetail::Texture>& textures, mesh::Material& material) {
    if (info.index < 0 || static_cast<std::size_t>(info.index) >= textures.size()) {
        return;
    }
    const mesh::MaterialDetail::Texture& texture = textures[static_cast<std::size_t>(info.index)];
    material.baseColourUvSet = static_cast<std::size_t>(std::max(info.texCoord, 0));
    readTransform(info, material);
    if (texture.hasSampler) {
        material.wrapU = wrapOf(texture.sampler.wrapS);
        material.wrapV = wrapOf(texture.sampler.wrapT);
    }
    material.baseColourImage = texture.image;
}

} // namespace

std::vector<mesh::Material> readGltfMaterials(const GltfDocument& document, base::Findings& findings) {
    std::vector<mesh::Material> materials;
    const auto textures = readTextures(document, findings);
    for (const tinygltf::Material& from : document.model->materials) {
        mesh::Material material;
        material.name = from.name;
        const auto& pbr = from.pbrMetallicRoughness;
        if (pbr.baseColorFactor.size() == 4) {
            for (int c = 0; c < 4; ++c) {
                material.baseColour[c] = static_cast<float>(pbr.baseColorFactor[static_cast<std::size_t>(c)]);
            }
        }
        takeBaseColour(pbr.baseColorTexture, *textures, material);
        material.alphaMode = from.alphaMode == "MASK"    ? mesh::AlphaMode::mask
                             : from.alphaMode == "BLEND" ? mesh::AlphaMode::blend
                                                         : mesh::AlphaMode::opaque;
        material.alphaCutoff = static_cast<float>(from.alphaCutoff);
        material.doubleSided = from.doubleSided;
        auto detail = std::make_shared<mesh::MaterialDetail>();
        detail->material = from;
        detail->textures = textures;
        material.detail = std::move(detail);
        noteTextureUses(material);
        materials.push_back(std::move(material));
    }
    // The specification's default material, for parts that name none.
    materials.emplace_back().stated = false;
    return materials;
}

} // namespace ripple::source
