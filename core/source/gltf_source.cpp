#include "source/gltf_source.h"

#include "base/progress.h"
#include "source/clip_files.h"
#include "source/gltf_animation.h"
#include "source/gltf_mesh.h"
#include "source/gltf_skins.h"
#include "source/scene_source.h"

namespace ripple::source {

std::shared_ptr<const FrameSource> openGltf(const std::filesystem::path& path, const OpenRequest& request,
                                            const base::Progress& progress) {
    progress.checkpoint();
    GltfDocument document = loadGltf(path, request.trust.followOutside);
    Scene scene;
    scene.file = document.file;
    scene.format = "glTF 2.0";
    scene.files = {path};
    scene.space.stated = true; // the format fixes both
    scene.nodes = readNodes(document);
    scene.geometry = readGeometry(document, scene.nodes, request.reading.meshes);
    scene.findings = std::move(document.findings);
    scene.animations = readAnimations(document, scene.nodes, scene.findings);
    takeClipFiles(scene, path, request, progress);
    return playScene(std::move(scene), request.reading);
}

Scene gltfMotion(const std::filesystem::path& path, const OpenRequest& request,
                 const base::Progress& progress) {
    progress.checkpoint();
    const GltfDocument document = loadGltf(path, request.trust.followOutside);
    Scene scene;
    scene.file = document.file;
    scene.files = {path};
    scene.nodes = readNodes(document);
    scene.geometry.skins = readSkins(document, scene.nodes);
    scene.animations = readAnimations(document, scene.nodes, scene.findings);
    return scene;
}

} // namespace ripple::source
