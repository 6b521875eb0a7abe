#include "source/scene_file_materials.h"

#include "base/files.h"

#include <algorithm>

#include <assimp/material.h>
#include <assimp/scene.h>

namespace ripple::source {

namespace {

void lookAt(base::Findings& findings, const std::string& where, const std::string& what,
            const std::string& fix) {
    findings.push_back({"texture-missing", base::Severity::look, {where, what, fix}});
}

/// "image/png" or "image/jpeg" by the first bytes; empty for anything else.
std::string mimeTypeOf(const base::Bytes& bytes) {
    const auto begins = [&](std::initializer_list<unsigned char> start) {
        return bytes.size() > start.size() &&
               std::equal(start.begin(), start.end(), bytes.begin(),
                          [](unsigned char a, std::byte b) { return std::byte{a} == b; });
    };
    return begins({0x89, 'P', 'N', 'G'}) ? "image/png" : begins({0xFF, 0xD8}) ? "image/jpeg" : "";
}

base::Bytes imageBytes(const aiScene& scene, const std::string& name, const std::filesystem::path& folder) {
    if (const aiTexture* inside = scene.GetEmbeddedTexture(name.c_str())) {
        const auto* begin = reinterpret_cast<const std::byte*>(inside->pcData);
        // A height of 0 means a whole image file of `width` bytes.
        return inside->mHeight == 0 ? base::Bytes(begin, begin + inside->mWidth) : base::Bytes();
    }
    std::string portable = name;
    std::replace(portable.begin(), portable.end(), '\\', '/');
    std::filesystem::path file = folder / portable;
    std::error_code error;
    if (!std::filesystem::exists(file, error)) {
        file =
            folder / std::filesystem::path(portable).filename(); // exporters write their own machine's paths
    }
    return base::readFile(file);
}

void takeImage(const aiScene& scene, const aiMaterial& from, const std::filesystem::path& path,
               mesh::Material& material, base::Findings& findings) {
    aiString name;
    unsigned int uvSet = 0;
    if (from.GetTexture(aiTextureType_BASE_COLOR, 0, &name, nullptr, &uvSet) != aiReturn_SUCCESS &&
        from.GetTexture(aiTextureType_DIFFUSE, 0, &name, nullptr, &uvSet) != aiReturn_SUCCESS) {
        return;
    }
    material.baseColourUvSet = uvSet;
    const std::string file = std::filesystem::path(name.C_Str()).filename().string();
    auto encoded = std::make_shared<mesh::EncodedImage>();
    encoded->name = file;
    try {
        encoded->bytes = imageBytes(scene, name.C_Str(), path.parent_path());
    } catch (const base::Failure& failure) {
        return lookAt(findings, path.filename().string(),
                      "the base-colour image \"" + file + "\" can't be read: " + failure.problem().what,
                      "put it beside the model; until then the plain colour is shown");
    }
    encoded->mimeType = mimeTypeOf(encoded->bytes);
    if (encoded->mimeType.empty()) {
        return lookAt(findings, path.filename().string(),
                      "the base-colour image \"" + file + "\" is neither PNG nor JPEG",
                      "convert it; until then the plain colour is shown");
    }
    material.baseColourImage = std::move(encoded);
}

} // namespace

std::vector<mesh::Material> readSceneMaterials(const aiScene& scene, const std::filesystem::path& path,
                                               base::Findings& findings) {
    std::vector<mesh::Material> materials;
    for (unsigned int m = 0; m < scene.mNumMaterials; ++m) {
        const aiMaterial& from = *scene.mMaterials[m];
        mesh::Material material;
        aiString name;
        from.Get(AI_MATKEY_NAME, name);
        material.name = name.C_Str();
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
        takeImage(scene, from, path, material, findings);
        materials.push_back(std::move(material));
    }
    materials.emplace_back();
    return materials;
}

} // namespace ripple::source
