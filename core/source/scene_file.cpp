#include "source/scene_file.h"

#include "base/files.h"
#include "base/text.h"
#include "source/scene_file_animation.h"
#include "source/scene_file_mesh.h"
#include "source/scene_source.h"

#include <algorithm>
#include <array>
#include <sstream>

#include <assimp/Importer.hpp>
#include <assimp/ProgressHandler.hpp>
#include <assimp/scene.h>

namespace ripple::source {

namespace {

/// Passes cancelling on; the library then gives up.
class Watch : public Assimp::ProgressHandler {
public:
    explicit Watch(const base::Progress& progress) : progress_(progress) {}
    bool Update(float) override { return !progress_.cancelled(); }

private:
    const base::Progress& progress_;
};

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

std::string oneLine(std::string text) {
    std::replace(text.begin(), text.end(), '\n', ' ');
    return text;
}

} // namespace

std::string sceneFileExtensions() {
    // Taken by readers of ours, or no scenes of their own.
    constexpr std::array kNotHere = {".gltf", ".glb", ".obj", ".ply", ".pc2", ".mdd", ".xml", ".zip", ".raw"};
    std::string list;
    Assimp::Importer importer;
    importer.GetExtensionList(list);
    std::istringstream stream(list);
    std::string extensions;
    for (std::string word; std::getline(stream, word, ';');) {
        const std::string extension = word.substr(word.find('.') == std::string::npos ? 0 : word.find('.'));
        if (std::find(kNotHere.begin(), kNotHere.end(), extension) == kNotHere.end()) {
            extensions += (extensions.empty() ? "" : " ") + extension;
        }
    }
    return extensions;
}

std::shared_ptr<const FrameSource> openSceneFile(const std::filesystem::path& path,
                                                 const OpenRequest& request, const base::Progress& progress) {
    base::readFile(path); // for our own words about files that are absent, empty or not to be read
    Assimp::Importer importer;
    importer.SetProgressHandler(new Watch(progress)); // the importer owns it
    const aiScene* read = importer.ReadFile(path.string(), 0);
    progress.checkpoint();
    const std::string file = path.filename().string();
    if (!read || !read->mRootNode) {
        base::fail(file, "can't be read: " + oneLine(importer.GetErrorString()),
                   "export it again, or as .glb");
    }
    Scene scene;
    scene.file = file;
    scene.format = base::extensionOf(path).substr(1) + " scene";
    scene.files = {path};
    scene.space = spaceOf(*read, path);
    SceneNode root;
    root.name = "scene";
    root.hasMatrix = true;
    root.matrix = rootTransform(scene.space);
    scene.nodes.push_back(root);
    std::vector<const aiNode*> originals = {nullptr};
    addNodes(*read->mRootNode, 0, scene.nodes, originals);
    scene.geometry = readSceneMeshes(*read, path, scene.nodes, originals, request.reading.meshes);
    scene.animations = readSceneAnimations(*read, file, scene.nodes, originals);
    return playScene(std::move(scene), request.reading);
}

} // namespace ripple::source
