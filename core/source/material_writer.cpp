#include "source/material_writer.h"

#include "image/png.h"

#include <algorithm>

namespace ripple::source {

namespace {

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

void addOnce(const std::string& name, std::vector<std::string>& list) {
    if (std::find(list.begin(), list.end(), name) == list.end()) {
        list.push_back(name);
    }
}

} // namespace

int MaterialWriter::add(const mesh::Material& from) {
    if (!from.stated) {
        return -1;
    }
    model_.materials.push_back(from.detail ? detailed(from) : plain(from));
    return static_cast<int>(model_.materials.size()) - 1;
}

tinygltf::Material MaterialWriter::plain(const mesh::Material& from) {
    tinygltf::Material material;
    takePlainParts(from, material);
    auto& pbr = material.pbrMetallicRoughness;
    pbr.metallicFactor = 0.0;
    if (from.baseColourImage) {
        mesh::MaterialDetail::Texture texture;
        texture.image = from.baseColourImage;
        texture.hasSampler = true;
        texture.sampler.wrapS = wrapCode(from.wrapU);
        texture.sampler.wrapT = wrapCode(from.wrapV);
        pbr.baseColorTexture.index = addTexture(texture);
        pbr.baseColorTexture.texCoord = static_cast<int>(from.baseColourUvSet);
        if (from.baseColourTransform != mesh::UvTransform{}) {
            pbr.baseColorTexture.extensions["KHR_texture_transform"] =
                transformValue(from.baseColourTransform);
            useExtensions(pbr.baseColorTexture.extensions);
        }
    }
    return material;
}

tinygltf::Material MaterialWriter::detailed(const mesh::Material& from) {
    tinygltf::Material material = from.detail->material;
    material.name = from.name;
    const auto& textures = *from.detail->textures;
    // A texture whose image could not be read would make the file refused: its place goes back to none.
    const auto leaveOut = [&](auto& info) {
        const bool there = info.index >= 0 && static_cast<std::size_t>(info.index) < textures.size();
        if (!there || !textures[static_cast<std::size_t>(info.index)].readable()) {
            info = {};
            return true;
        }
        return false;
    };
    auto& pbr = material.pbrMetallicRoughness;
    leaveOut(pbr.baseColorTexture);
    leaveOut(pbr.metallicRoughnessTexture);
    leaveOut(material.normalTexture);
    leaveOut(material.occlusionTexture);
    leaveOut(material.emissiveTexture);
    std::erase_if(material.extensions, [&](const auto& extension) {
        bool lost = false;
        tinygltf::Material only;
        only.extensions.insert(extension);
        changeTextureUses(only, [&](TextureUse& use) { lost = leaveOut(use) || lost; });
        return lost;
    });
    changeTextureUses(material, [&](TextureUse& use) {
        use.index = addTexture(textures[static_cast<std::size_t>(use.index)]);
        const auto set = static_cast<std::size_t>(std::max(use.uvSet, 0));
        use.uvSet = static_cast<int>(set < from.uvSetNow.size() ? from.uvSetNow[set] : set);
    });
    for (const auto* extensions :
         {&material.extensions, &pbr.extensions, &pbr.baseColorTexture.extensions,
          &pbr.metallicRoughnessTexture.extensions, &material.normalTexture.extensions,
          &material.occlusionTexture.extensions, &material.emissiveTexture.extensions}) {
        useExtensions(*extensions);
    }
    return material;
}

int MaterialWriter::addTexture(const mesh::MaterialDetail::Texture& from) {
    tinygltf::Texture texture = from.texture;
    texture.source = from.image ? addImage(from.image) : -1;
    texture.sampler = from.hasSampler ? addSampler(from.sampler) : -1;
    for (const auto& [name, image] : from.further) {
        tinygltf::Value::Object object;
        object["source"] = tinygltf::Value(addImage(image));
        texture.extensions[name] = tinygltf::Value(std::move(object));
        if (!from.image) {
            addOnce(name, model_.extensionsRequired);
        }
    }
    useExtensions(texture.extensions);
    const auto found = std::find(model_.textures.begin(), model_.textures.end(), texture);
    if (found != model_.textures.end()) {
        return static_cast<int>(found - model_.textures.begin());
    }
    model_.textures.push_back(std::move(texture));
    return static_cast<int>(model_.textures.size()) - 1;
}

int MaterialWriter::addImage(const std::shared_ptr<const mesh::EncodedImage>& from) {
    const auto [place, added] = images_.try_emplace(from.get(), static_cast<int>(model_.images.size()));
    if (added) {
        tinygltf::Image image;
        image.name = from->name;
        image.mimeType = from->mimeType;
        image.bufferView = packing_.addView(image::pixelsAlone(from->bytes), 0);
        model_.images.push_back(std::move(image));
    }
    return place->second;
}

int MaterialWriter::addSampler(const tinygltf::Sampler& sampler) {
    const auto found = std::find(model_.samplers.begin(), model_.samplers.end(), sampler);
    if (found != model_.samplers.end()) {
        return static_cast<int>(found - model_.samplers.begin());
    }
    model_.samplers.push_back(sampler);
    return static_cast<int>(model_.samplers.size()) - 1;
}

void MaterialWriter::useExtensions(const tinygltf::ExtensionMap& extensions) {
    for (const auto& [name, value] : extensions) {
        addOnce(name, model_.extensionsUsed);
        useNested(value);
    }
}

/// Extensions of what stands inside an extension.
void MaterialWriter::useNested(const tinygltf::Value& value) {
    if (!value.IsObject()) {
        return;
    }
    for (const std::string& key : value.Keys()) {
        const tinygltf::Value& inside = value.Get(key);
        if (key == "extensions" && inside.IsObject()) {
            for (const std::string& name : inside.Keys()) {
                addOnce(name, model_.extensionsUsed);
            }
        }
        useNested(inside);
    }
}

} // namespace ripple::source
