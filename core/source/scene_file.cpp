#include "source/scene_file.h"

#include "base/child_program.h"
#include "base/files.h"
#include "base/text.h"
#include "base/units.h"
#include "source/clip_files.h"
#include "source/companions.h"
#include "source/imported_scene.h"
#include "source/material_detail.h"

#include <array>
#include <cmath>

#include <fcntl.h>
#include <unistd.h>

namespace ripple::source {

namespace {

constexpr const char* kProgram = "ripple-import";
constexpr const char* kDamagedScene = "the file is likely damaged; export it again, or as .glb";

/// For our own words about files that are absent or not to be read.
void requireReadable(const std::filesystem::path& path) {
    base::requireFile(path);
    const int file = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (file < 0) {
        base::readFile(path); // says why
    }
    ::close(file);
}

ImportedScene import(const std::filesystem::path& path, const OpenRequest& request,
                     const base::Progress& progress) {
    const ImportLimits& limits = request.trust.import;
    const std::string where = base::likelyUtf8(path.filename().string());
    const auto bytes = static_cast<std::size_t>(limits.gigabytes * static_cast<double>(1u << 30));
    std::vector<std::string> words = {std::to_string(bytes),
                                      std::to_string(static_cast<std::size_t>(std::ceil(limits.seconds))),
                                      std::filesystem::absolute(path).string()};
    words.insert(words.end(), request.reading.meshes.begin(), request.reading.meshes.end());
    const base::ChildProgram child(base::programBeside(kProgram), words, limits.seconds, progress);
    switch (child.end()) {
    case base::ChildProgram::End::done:
        return receiveScene(child.answer(), where);
    case base::ChildProgram::End::tooLong:
        base::fail(where, "took longer to read than the " + base::secondsText(limits.seconds) + " it may",
                   kMoreTimeFix);
    case base::ChildProgram::End::crashed:
    case base::ChildProgram::End::failed:
        break;
    }
    base::fail(where, "can't be read: the import library broke off", kDamagedScene);
}

void takeTexture(const ImportedTexture& from, Companions& companions,
                 std::vector<mesh::MaterialDetail::Texture>& textures, mesh::Material& material,
                 tinygltf::Material& all, base::Findings& findings) {
    static constexpr std::array<const char*, kTextureSlots> kWords = {"base-colour", "normal", "occlusion",
                                                                      "emissive"};
    const auto image =
        from.inside.empty()
            ? companions.image(from.name, kWords[static_cast<std::size_t>(from.slot)], findings)
            : companions.imageInside(from.inside, from.name, kWords[static_cast<std::size_t>(from.slot)],
                                     findings);
    const auto place = [&](auto& info) {
        info.texCoord = static_cast<int>(from.uvSet);
        if (image) {
            textures.emplace_back().image = image;
            info.index = static_cast<int>(textures.size()) - 1;
        }
    };
    switch (from.slot) {
    case TextureSlot::baseColour:
        place(all.pbrMetallicRoughness.baseColorTexture);
        material.baseColourImage = image;
        material.baseColourUvSet = from.uvSet;
        break;
    case TextureSlot::normal:
        place(all.normalTexture);
        break;
    case TextureSlot::occlusion:
        place(all.occlusionTexture);
        break;
    case TextureSlot::emissive:
        place(all.emissiveTexture);
        if (image && all.emissiveFactor.empty()) {
            all.emissiveFactor = {1.0, 1.0, 1.0}; // the factor that lets the map be seen
        }
        break;
    }
}

/// Materials with their images; and one more for meshes that name none.
std::vector<mesh::Material> materialsOf(const ImportedScene& imported, Companions& companions,
                                        base::Findings& findings) {
    std::vector<mesh::Material> materials;
    for (const ImportedMaterial& from : imported.materials) {
        mesh::Material material;
        material.name = from.name;
        material.baseColour = from.baseColour;
        material.alphaMode = from.alphaMode;
        material.doubleSided = from.doubleSided;
        auto detail = std::make_shared<mesh::MaterialDetail>();
        tinygltf::Material& all = detail->material;
        takePlainParts(material, all);
        all.pbrMetallicRoughness.metallicFactor = from.metallic;
        all.pbrMetallicRoughness.roughnessFactor = from.roughness;
        if (from.emissive != glm::dvec3(0.0)) {
            all.emissiveFactor = {from.emissive.x, from.emissive.y, from.emissive.z};
        }
        std::vector<mesh::MaterialDetail::Texture> textures;
        for (const ImportedTexture& texture : from.textures) {
            takeTexture(texture, companions, textures, material, all, findings);
        }
        detail->textures = std::make_shared<std::vector<mesh::MaterialDetail::Texture>>(std::move(textures));
        material.detail = std::move(detail);
        noteTextureUses(material);
        materials.push_back(std::move(material));
    }
    materials.back().stated = false; // the last one stands for parts that name none
    return materials;
}

} // namespace

const char* sceneFileExtensions() {
    // What assimp 5.2 reads, without what readers of ours take and what holds no scene (.xml, .zip, .raw).
    return ".3d .3ds .3mf .ac .ac3d .acc .amf .ase .ask .assbin .b3d .blend .bsp .bvh .cob .csm .dae "
           ".dxf .enff .fbx .hmp .ifc .ifczip .iqm .irr .irrmesh .lwo .lws .lxo .md2 .md3 .md5anim "
           ".md5camera .md5mesh .mdc .mdl .mesh .mot .ms3d .ndo .nff .off .ogex .pk3 .pmx .prj .q3o "
           ".q3s .scn .sib .smd .step .stl .stp .ter .uc .vta .x .x3d .x3db .xgl .zae .zgl";
}

Scene sceneFileScene(const std::filesystem::path& path, const OpenRequest& request,
                     const base::Progress& progress) {
    requireReadable(path);
    ImportedScene imported = import(path, request, progress);
    Scene& scene = imported.scene;
    scene.file = base::likelyUtf8(path.filename().string());
    scene.format = base::extensionOf(path).substr(1) + " scene";
    scene.files = {path};
    Companions companions(path, request.trust.followOutside);
    scene.geometry.mesh.materials = materialsOf(imported, companions, scene.findings);
    companions.report(scene.findings);
    return std::move(scene);
}

std::shared_ptr<const FrameSource> openSceneFile(const std::filesystem::path& path,
                                                 const OpenRequest& request, const base::Progress& progress) {
    Scene scene = sceneFileScene(path, request, progress);
    takeClipFiles(scene, path, request, progress);
    return playScene(std::move(scene), request.reading);
}

} // namespace ripple::source
