#include "importer/materials.h"

#include "base/text.h"

#include <algorithm>
#include <initializer_list>

#include <assimp/material.h>
#include <assimp/scene.h>

namespace ripple::importer {

namespace {

using source::ImportedMaterial;
using source::ImportedTexture;
using source::TextureSlot;

/// The first of the library's kinds of texture that the material has.
void takeTexture(const aiScene& scene, const aiMaterial& from, TextureSlot slot,
                 std::initializer_list<aiTextureType> types, ImportedMaterial& to) {
    for (const aiTextureType type : types) {
        aiString name;
        unsigned int uvSet = 0;
        if (from.GetTexture(type, 0, &name, nullptr, &uvSet) != aiReturn_SUCCESS) {
            continue;
        }
        ImportedTexture texture{slot, name.C_Str(), std::min(uvSet, 63u), {}};
        if (const aiTexture* inside = scene.GetEmbeddedTexture(name.C_Str())) {
            const auto* begin = reinterpret_cast<const std::byte*>(inside->pcData);
            // A height of 0 means a whole image file of `width` bytes.
            texture.inside = inside->mHeight == 0 && begin
                                 ? base::Bytes(begin, begin + inside->mWidth)
                                 : base::Bytes(1); // bare pixels, which no file of ours takes: said as such
        }
        to.textures.push_back(std::move(texture));
        return;
    }
}

/// Factors of physically based shading, where the file gives them.
void takeFactors(const aiMaterial& from, ImportedMaterial& to) {
    const auto part = [](ai_real value) { return std::clamp(static_cast<double>(value), 0.0, 1.0); };
    ai_real number = 0.0f;
    if (from.Get(AI_MATKEY_METALLIC_FACTOR, number) == aiReturn_SUCCESS) {
        to.metallic = part(number);
    }
    if (from.Get(AI_MATKEY_ROUGHNESS_FACTOR, number) == aiReturn_SUCCESS) {
        to.roughness = part(number);
    }
    aiColor3D glow(0.0f, 0.0f, 0.0f);
    if (from.Get(AI_MATKEY_COLOR_EMISSIVE, glow) == aiReturn_SUCCESS) {
        to.emissive = {part(glow.r), part(glow.g), part(glow.b)};
    }
}

} // namespace

std::vector<ImportedMaterial> readSceneMaterials(const aiScene& scene) {
    std::vector<ImportedMaterial> materials;
    for (unsigned int m = 0; m < scene.mNumMaterials; ++m) {
        const aiMaterial& from = *scene.mMaterials[m];
        ImportedMaterial material;
        aiString name;
        from.Get(AI_MATKEY_NAME, name);
        material.name = base::likelyUtf8(name.C_Str());
        aiColor4D colour(1.0f, 1.0f, 1.0f, 1.0f);
        from.Get(AI_MATKEY_COLOR_DIFFUSE, colour);
        material.baseColour = {colour.r, colour.g, colour.b, 1.0f};
        float opacity = 1.0f;
        if (from.Get(AI_MATKEY_OPACITY, opacity) == aiReturn_SUCCESS && opacity > 0.0f && opacity < 1.0f) {
            material.baseColour.a = opacity;
            material.alphaMode = mesh::AlphaMode::blend;
        }
        int twoSided = 0;
        from.Get(AI_MATKEY_TWOSIDED, twoSided);
        material.doubleSided = twoSided != 0;
        takeFactors(from, material);
        takeTexture(scene, from, TextureSlot::baseColour, {aiTextureType_BASE_COLOR, aiTextureType_DIFFUSE},
                    material);
        takeTexture(scene, from, TextureSlot::normal, {aiTextureType_NORMALS, aiTextureType_NORMAL_CAMERA},
                    material);
        takeTexture(scene, from, TextureSlot::occlusion, {aiTextureType_AMBIENT_OCCLUSION}, material);
        takeTexture(scene, from, TextureSlot::emissive,
                    {aiTextureType_EMISSION_COLOR, aiTextureType_EMISSIVE}, material);
        materials.push_back(std::move(material));
    }
    materials.emplace_back(); // for meshes that name none
    return materials;
}

} // namespace ripple::importer
