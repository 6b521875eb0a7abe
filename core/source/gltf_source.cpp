#include "source/gltf_source.h"

#include "base/progress.h"
#include "source/gltf_animation.h"
#include "source/gltf_mesh.h"
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
    return playScene(std::move(scene), request.reading);
}

} // namespace ripple::source
