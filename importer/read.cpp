#include "importer/read.h"

#include "base/text.h"
#include "base/units.h"
#include "importer/animations.h"
#include "importer/materials.h"
#include "importer/meshes.h"

#include <array>
#include <new>

#include <assimp/Importer.hpp>
#include <assimp/scene.h>

namespace ripple::importer {

namespace {

using namespace source;

/// Unit and up axis where the file states them. Formats whose reader in the library turns the root itself are
/// metres and +Y up by the time we see them.
Space spaceOf(const aiScene& scene, const std::filesystem::path& path) {
    Space space;
    space.stated = base::extensionOf(path) == ".dae";
    if (!scene.mMetaData) {
        return space;
    }
    double centimetres = 0.0;
    float single = 0.0f;
    if (!scene.mMetaData->Get("UnitScaleFactor", centimetres) &&
        scene.mMetaData->Get("UnitScaleFactor", single)) {
        centimetres = static_cast<double>(single);
    }
    if (centimetres > 0.0 && centimetres < 1e9) {
        space.metresPerUnit = centimetres / 100.0;
        space.stated = true;
    }
    int32_t up = -1;
    if (scene.mMetaData->Get("UpAxis", up) && up >= 0 && up <= 2) {
        space.up = static_cast<Axis>(up);
        space.stated = true;
    }
    return space;
}

/// Metres and +Y up from the file's unit and axis.
glm::dmat4 rootTransform(const Space& space) {
    glm::dmat4 m(glm::dmat3(toYUp(space.up)));
    for (int c = 0; c < 3; ++c) {
        m[c] *= space.metresPerUnit;
    }
    return m;
}

/// The library's nodes, parents first, under one root of ours.
void addNodes(const aiNode& from, int parent, std::vector<SceneNode>& nodes,
              std::vector<const aiNode*>& originals) {
    SceneNode node;
    node.name = base::likelyUtf8(from.mName.C_Str());
    node.parent = parent;
    node.hasMatrix = true;
    node.matrix = matrixOf(from.mTransformation);
    const auto own = static_cast<int>(nodes.size());
    nodes.push_back(std::move(node));
    originals.push_back(&from);
    for (unsigned int c = 0; c < from.mNumChildren; ++c) {
        addNodes(*from.mChildren[c], own, nodes, originals);
    }
}

/// What the library says of a file that it refuses, in words. Its own are about its code, and may hold any
/// part of the file.
std::string reasonIn(const std::string& message) {
    struct Reason {
        const char* said;
        const char* words;
    };
    static constexpr std::array kReasons = {
        Reason{"ersion", "is of a version that the import library does not read"},
        Reason{"ncrypt", "is encrypted"},
        Reason{"password", "is encrypted"},
        Reason{"compress", "is packed in a way that the import library does not read"},
        Reason{"unexpected end", "is cut short"},
        Reason{"nexpected EOF", "is cut short"},
        Reason{"nd of file", "is cut short"},
        Reason{"too small", "is cut short"},
        Reason{"empty", "is empty, or a part of it is"},
        Reason{"no meshes", "holds no mesh"},
    };
    for (const Reason& reason : kReasons) {
        if (message.find(reason.said) != std::string::npos) {
            return reason.words;
        }
    }
    return "can't be read by the import library: it is damaged, or not what its extension says";
}

} // namespace

ImportedScene readScene(const std::filesystem::path& path, std::span<const std::string> wanted) {
    Assimp::Importer importer;
    return readScene(importer, path, wanted);
}

ImportedScene readScene(Assimp::Importer& importer, const std::filesystem::path& path,
                        std::span<const std::string> wanted) {
    const aiScene* read = importer.ReadFile(path.string(), 0);
    const std::string file = base::likelyUtf8(path.filename().string());
    if (!read || !read->mRootNode) {
        const std::string message = importer.GetErrorString();
        if (message.find("alloc") != std::string::npos || message.find("emory") != std::string::npos) {
            throw std::bad_alloc(); // which the library turned into words
        }
        base::fail(file, reasonIn(message), "export it again, or as .glb");
    }
    ImportedScene imported;
    Scene& scene = imported.scene;
    scene.space = spaceOf(*read, path);
    SceneNode root;
    root.name = "scene";
    root.hasMatrix = true;
    root.matrix = rootTransform(scene.space);
    scene.nodes.push_back(root);
    std::vector<const aiNode*> originals = {nullptr};
    addNodes(*read->mRootNode, 0, scene.nodes, originals);
    scene.geometry = readSceneMeshes(*read, file, scene.nodes, originals, wanted);
    scene.animations = readSceneAnimations(*read, file, scene.nodes, originals);
    imported.materials = readSceneMaterials(*read);
    return imported;
}

std::string libraryExtensions() {
    std::string list;
    Assimp::Importer importer;
    importer.GetExtensionList(list);
    return list;
}

} // namespace ripple::importer
