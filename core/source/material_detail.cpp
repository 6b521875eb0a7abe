#include "source/material_detail.h"

#include <algorithm>
#include <array>

namespace ripple::source {

namespace {

using tinygltf::Value;

constexpr const char* kTransform = "KHR_texture_transform";

bool endsWith(const std::string& text, std::string_view ending) {
    return text.size() >= ending.size() &&
           text.compare(text.size() - ending.size(), ending.size(), ending) == 0;
}

/// The UV set of a texture transform, if it names one.
bool overrides(const tinygltf::ExtensionMap& extensions, int& uvSet) {
    const auto found = extensions.find(kTransform);
    if (found == extensions.end() || !found->second.Has("texCoord") ||
        !found->second.Get("texCoord").IsInt()) {
        return false;
    }
    uvSet = found->second.Get("texCoord").GetNumberAsInt();
    return true;
}

Value with(const Value& object, const std::string& key, int value) {
    Value::Object copy = object.Get<Value::Object>();
    copy[key] = Value(value);
    return Value(std::move(copy));
}

template <typename Info>
void changeInfo(Info& info, const char* field, const std::function<void(TextureUse&)>& change) {
    if (info.index < 0) {
        return;
    }
    TextureUse use{info.index, info.texCoord, field};
    const bool overridden = overrides(info.extensions, use.uvSet);
    const int before = use.uvSet;
    change(use);
    info.index = use.index;
    // What an override replaces is for readers that do not know it; it moves along.
    info.texCoord = overridden && use.uvSet == before ? info.texCoord : use.uvSet;
    if (overridden) {
        info.extensions[kTransform] = with(info.extensions[kTransform], "texCoord", use.uvSet);
    }
}

/// A textureInfo object inside an extension.
Value changedInfo(const Value& from, const std::string& field,
                  const std::function<void(TextureUse&)>& change) {
    Value::Object info = from.Get<Value::Object>();
    const bool named = info.contains("texCoord") && info["texCoord"].IsInt();
    TextureUse use{info["index"].GetNumberAsInt(), named ? info["texCoord"].GetNumberAsInt() : 0, field};
    Value transform;
    if (from.Has("extensions") && from.Get("extensions").Has(kTransform)) {
        transform = from.Get("extensions").Get(kTransform);
    }
    const bool overridden = transform.Has("texCoord") && transform.Get("texCoord").IsInt();
    if (overridden) {
        use.uvSet = transform.Get("texCoord").GetNumberAsInt();
    }
    change(use);
    info["index"] = Value(use.index);
    if (named || use.uvSet != 0) {
        info["texCoord"] = Value(use.uvSet);
    }
    if (overridden) {
        Value::Object extensions = from.Get("extensions").Get<Value::Object>();
        extensions[kTransform] = with(transform, "texCoord", use.uvSet);
        info["extensions"] = Value(std::move(extensions));
    }
    return Value(std::move(info));
}

Value changedTextures(const Value& from, const std::function<void(TextureUse&)>& change) {
    if (!from.IsObject()) {
        return from;
    }
    Value::Object object;
    for (const std::string& key : from.Keys()) {
        const Value& value = from.Get(key);
        const bool texture = (endsWith(key, "Texture") || key == "texture") && value.IsObject() &&
                             value.Has("index") && value.Get("index").IsInt();
        object[key] = texture ? changedInfo(value, key, change) : changedTextures(value, change);
    }
    return Value(std::move(object));
}

void changeExtensions(tinygltf::ExtensionMap& extensions, const std::function<void(TextureUse&)>& change) {
    for (auto& [name, value] : extensions) {
        value = changedTextures(value, change);
    }
}

} // namespace

void changeTextureUses(tinygltf::Material& material, const std::function<void(TextureUse&)>& change) {
    auto& pbr = material.pbrMetallicRoughness;
    changeInfo(pbr.baseColorTexture, "baseColorTexture", change);
    changeInfo(pbr.metallicRoughnessTexture, "metallicRoughnessTexture", change);
    changeInfo(material.normalTexture, "normalTexture", change);
    changeInfo(material.occlusionTexture, "occlusionTexture", change);
    changeInfo(material.emissiveTexture, "emissiveTexture", change);
    changeExtensions(material.extensions, change);
    changeExtensions(pbr.extensions, change);
}

void takePlainParts(const mesh::Material& from, tinygltf::Material& to) {
    to.name = from.name;
    auto& factor = to.pbrMetallicRoughness.baseColorFactor;
    factor.resize(4);
    for (int c = 0; c < 4; ++c) {
        factor[static_cast<std::size_t>(c)] = static_cast<double>(from.baseColour[c]);
    }
    to.alphaMode = from.alphaMode == mesh::AlphaMode::mask    ? "MASK"
                   : from.alphaMode == mesh::AlphaMode::blend ? "BLEND"
                                                              : "OPAQUE";
    to.alphaCutoff = static_cast<double>(from.alphaCutoff);
    to.doubleSided = from.doubleSided;
}

namespace {

bool isNormalMap(const TextureUse& use) {
    return use.field == "normalTexture" || use.field == "clearcoatNormalTexture";
}

} // namespace

std::optional<std::size_t> normalMapUvSet(const mesh::Material& material) {
    std::optional<std::size_t> found;
    if (material.detail) {
        tinygltf::Material copy = material.detail->material;
        changeTextureUses(copy, [&](TextureUse& use) {
            if (isNormalMap(use) && (!found || use.field == "normalTexture")) {
                const auto set = static_cast<std::size_t>(std::max(use.uvSet, 0));
                found = set < material.uvSetNow.size() ? material.uvSetNow[set] : set;
            }
        });
    }
    return found;
}

void noteTextureUses(mesh::Material& material) {
    if (!material.detail) {
        return;
    }
    tinygltf::Material copy = material.detail->material;
    changeTextureUses(copy, [&](TextureUse& use) {
        material.uvSetsRead.push_back(static_cast<std::size_t>(std::max(use.uvSet, 0)));
        material.hasNormalMap = material.hasNormalMap || isNormalMap(use);
    });
    std::sort(material.uvSetsRead.begin(), material.uvSetsRead.end());
    material.uvSetsRead.erase(std::unique(material.uvSetsRead.begin(), material.uvSetsRead.end()),
                              material.uvSetsRead.end());
}

std::string imageTypeOf(std::span<const std::byte> bytes) {
    struct Type {
        std::size_t at;
        std::string_view start;
        const char* mime;
    };
    static constexpr std::array kTypes = {
        Type{0, "\x89PNG", "image/png"},
        Type{0, "\xFF\xD8\xFF", "image/jpeg"},
        Type{8, "WEBP", "image/webp"},
        Type{0, "\xABKTX 20\xBB", "image/ktx2"},
    };
    for (const Type& type : kTypes) {
        const auto matches = [](std::byte a, char b) { return a == static_cast<std::byte>(b); };
        if (bytes.size() > type.at + type.start.size() &&
            std::equal(type.start.begin(), type.start.end(),
                       bytes.begin() + static_cast<std::ptrdiff_t>(type.at),
                       [&](char b, std::byte a) { return matches(a, b); })) {
            return type.mime;
        }
    }
    return {};
}

} // namespace ripple::source
