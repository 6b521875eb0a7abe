#include "source/scene_file_materials.h"

#include "base/files.h"
#include "base/text.h"
#include "source/material_detail.h"

#include <algorithm>

#include <assimp/material.h>
#include <assimp/scene.h>

namespace ripple::source {

namespace {

void lookAt(base::Findings& findings, const std::string& where, const std::string& what,
            const std::string& fix) {
    findings.push_back({"texture-missing", base::Severity::look, {where, what, fix}});
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

/// One of the library's kinds of texture, as a field of the material.
struct SceneTexture {
    std::initializer_list<aiTextureType> types; ///< the first that is there
    const char* what;                           ///< "base-colour"
};

/// The material's textures, one after another.
class SceneTextures {
public:
    SceneTextures(const aiScene& scene, const aiMaterial& from, const std::filesystem::path& path,
                  base::Findings& findings)
        : scene_(scene),
          from_(from),
          path_(path),
          findings_(findings) {}

    /// Sets index and UV set of `info`; returns the image.
    template <typename Info>
    std::shared_ptr<const mesh::EncodedImage> take(const SceneTexture& texture, Info& info) {
        for (const aiTextureType type : texture.types) {
            aiString name;
            unsigned int uvSet = 0;
            if (from_.GetTexture(type, 0, &name, nullptr, &uvSet) == aiReturn_SUCCESS) {
                auto image = read(name.C_Str(), texture.what);
                info.texCoord = static_cast<int>(uvSet);
                if (image) {
                    textures_.emplace_back().image = image;
                    info.index = static_cast<int>(textures_.size()) - 1;
                }
                return image;
            }
        }
        return nullptr;
    }

    std::shared_ptr<const std::vector<mesh::MaterialDetail::Texture>> table() {
        return std::make_shared<std::vector<mesh::MaterialDetail::Texture>>(std::move(textures_));
    }

private:
    std::shared_ptr<const mesh::EncodedImage> read(const std::string& name, const std::string& what) {
        const std::string file = base::likelyUtf8(std::filesystem::path(name).filename().string());
        const std::string where = base::likelyUtf8(path_.filename().string());
        auto encoded = std::make_shared<mesh::EncodedImage>();
        encoded->name = file;
        try {
            encoded->bytes = imageBytes(scene_, name, path_.parent_path());
        } catch (const base::Failure& failure) {
            lookAt(findings_, where,
                   "the " + what + " image \"" + file + "\" can't be read: " + failure.problem().what,
                   "put it beside the model; until then the material goes without");
            return nullptr;
        }
        encoded->mimeType = imageTypeOf(encoded->bytes);
        if (encoded->mimeType != "image/png" && encoded->mimeType != "image/jpeg") {
            lookAt(findings_, where, "the " + what + " image \"" + file + "\" is neither PNG nor JPEG",
                   "convert it; until then the material goes without");
            return nullptr;
        }
        return encoded;
    }

    const aiScene& scene_;
    const aiMaterial& from_;
    const std::filesystem::path& path_;
    base::Findings& findings_;
    std::vector<mesh::MaterialDetail::Texture> textures_;
};

/// Factors of physically based shading, where the file gives them.
void takeFactors(const aiMaterial& from, tinygltf::Material& to) {
    auto& pbr = to.pbrMetallicRoughness;
    ai_real number = 0.0f;
    pbr.metallicFactor = from.Get(AI_MATKEY_METALLIC_FACTOR, number) == aiReturn_SUCCESS
                             ? std::clamp(static_cast<double>(number), 0.0, 1.0)
                             : 0.0;
    if (from.Get(AI_MATKEY_ROUGHNESS_FACTOR, number) == aiReturn_SUCCESS) {
        pbr.roughnessFactor = std::clamp(static_cast<double>(number), 0.0, 1.0);
    }
    aiColor3D glow(0.0f, 0.0f, 0.0f);
    if (from.Get(AI_MATKEY_COLOR_EMISSIVE, glow) == aiReturn_SUCCESS && !glow.IsBlack()) {
        const auto part = [](ai_real value) { return std::clamp(static_cast<double>(value), 0.0, 1.0); };
        to.emissiveFactor = {part(glow.r), part(glow.g), part(glow.b)};
    }
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
        auto detail = std::make_shared<mesh::MaterialDetail>();
        tinygltf::Material& all = detail->material;
        takePlainParts(material, all);
        takeFactors(from, all);
        SceneTextures textures(scene, from, path, findings);
        auto& baseColour = all.pbrMetallicRoughness.baseColorTexture;
        material.baseColourImage =
            textures.take({{aiTextureType_BASE_COLOR, aiTextureType_DIFFUSE}, "base-colour"}, baseColour);
        material.baseColourUvSet = static_cast<std::size_t>(baseColour.texCoord);
        textures.take({{aiTextureType_NORMALS, aiTextureType_NORMAL_CAMERA}, "normal"}, all.normalTexture);
        textures.take({{aiTextureType_AMBIENT_OCCLUSION}, "occlusion"}, all.occlusionTexture);
        if (textures.take({{aiTextureType_EMISSION_COLOR, aiTextureType_EMISSIVE}, "emissive"},
                          all.emissiveTexture) &&
            all.emissiveFactor.empty()) {
            all.emissiveFactor = {1.0, 1.0, 1.0}; // the factor that lets the map be seen
        }
        detail->textures = textures.table();
        material.detail = std::move(detail);
        noteTextureUses(material);
        materials.push_back(std::move(material));
    }
    materials.emplace_back().stated = false;
    return materials;
}

} // namespace ripple::source
