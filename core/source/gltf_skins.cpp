#include "source/gltf_skins.h"
#include "source/gltf_library.h"

namespace ripple::source {

namespace {

} // namespace

std::vector<SceneSkin> readSkins(const GltfDocument& document, std::span<const SceneNode> nodes) {
    std::vector<SceneSkin> skins;
    const tinygltf::Model& model = *document.model;
    for (std::size_t s = 0; s < model.skins.size(); ++s) {
        const tinygltf::Skin& from = model.skins[s];
        const std::string where = document.at("skin", s);
        SceneSkin skin;
        for (const int joint : from.joints) {
            if (joint < 0 || static_cast<std::size_t>(joint) >= nodes.size()) {
                base::fail(where, "names joint node " + std::to_string(joint) + ", which does not exist",
                           kExportAgain);
            }
            skin.joints.push_back(static_cast<std::size_t>(joint));
        }
        if (skin.joints.empty()) {
            base::fail(where, "has no joints", kExportAgain);
        }
        skin.inverseBind.assign(skin.joints.size(), glm::dmat4(1.0));
        if (from.inverseBindMatrices >= 0) {
            const GltfNumbers matrices = readNumbers(document, from.inverseBindMatrices, 16);
            if (matrices.count < skin.joints.size()) {
                base::fail(where,
                           "has " + std::to_string(matrices.count) + " inverse bind matrices for " +
                               std::to_string(skin.joints.size()) + " joints",
                           kExportAgain);
            }
            for (std::size_t j = 0; j < skin.joints.size(); ++j) {
                for (int k = 0; k < 16; ++k) {
                    skin.inverseBind[j][k / 4][k % 4] =
                        static_cast<double>(matrices.values[16 * j + static_cast<std::size_t>(k)]);
                }
            }
        }
        skins.push_back(std::move(skin));
    }
    return skins;
}

std::vector<char> nodesInScene(const GltfDocument& document, std::span<const SceneNode> nodes) {
    const tinygltf::Model& model = *document.model;
    if (model.scenes.empty()) {
        return std::vector<char>(nodes.size(), 1);
    }
    const std::size_t wanted = model.defaultScene >= 0 ? static_cast<std::size_t>(model.defaultScene) : 0;
    if (wanted >= model.scenes.size()) {
        base::fail(document.file, "names scene " + std::to_string(wanted) + ", which does not exist", kExportAgain);
    }
    std::vector<char> roots(nodes.size(), 0);
    for (const int root : model.scenes[wanted].nodes) {
        if (root < 0 || static_cast<std::size_t>(root) >= nodes.size()) {
            base::fail(document.at("scene", wanted),
                       "names node " + std::to_string(root) + ", which does not exist", kExportAgain);
        }
        roots[static_cast<std::size_t>(root)] = 1;
    }
    std::vector<char> inside(nodes.size(), 0);
    for (const std::size_t n : parentsFirst(nodes)) {
        inside[n] = roots[n];
        if (nodes[n].parent >= 0) {
            inside[n] |= inside[static_cast<std::size_t>(nodes[n].parent)];
        }
    }
    return inside;
}

} // namespace ripple::source
