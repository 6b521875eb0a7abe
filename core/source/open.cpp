#include "source/open.h"

#include "base/files.h"
#include "base/progress.h"
#include "source/adjusted.h"
#include "source/clip_files.h"
#include "source/file_sequence.h"
#include "source/gltf_source.h"
#include "source/obj_sequence.h"
#include "source/ply_sequence.h"
#include "source/point_cache.h"
#include "source/scene_file.h"

#include <algorithm>
#include <iterator>
#include <sstream>

namespace ripple::source {

namespace {

std::vector<std::string> words(const std::string& text) {
    std::istringstream stream(text);
    return {std::istream_iterator<std::string>(stream), {}};
}

bool lists(const std::string& extensions, const std::string& extension) {
    const std::vector<std::string> all = words(extensions);
    return std::find(all.begin(), all.end(), extension) != all.end();
}

const Reader& readerFor(const std::filesystem::path& path) {
    const std::string extension = base::extensionOf(path);
    std::string known;
    for (const Reader& reader : readers()) {
        if (lists(reader.extensions, extension)) {
            return reader;
        }
        known += (known.empty() ? "" : " ") + reader.extensions;
    }
    base::fail(path.string(), extension.empty() ? "the name has no extension" : "no reader for " + extension,
               "what can be read: " + known);
}

} // namespace

const std::vector<Reader>& readers() {
    static const std::vector<Reader> kReaders = {
        {"glTF 2.0", ".gltf .glb", false, &openGltf},
        {"OBJ sequence", ".obj", true, &openObjSequence},
        {"PLY sequence", ".ply", true, &openPlySequence},
        {"point cache", ".pc2 .mdd", false, &openPointCache},
        {"scene file", sceneFileExtensions(), false, &openSceneFile},
    };
    return kReaders;
}

std::shared_ptr<const FrameSource> openPlain(const std::filesystem::path& path, const OpenRequest& request,
                                             const base::Progress& progress) {
    return readerFor(path).open(path, request, progress);
}

std::shared_ptr<const FrameSource> open(const std::filesystem::path& path, const Reading& reading,
                                        const base::Progress& progress, std::size_t cacheBytes,
                                        const Trust& trust) {
    std::filesystem::path file = path;
    if (base::isFolder(path)) {
        std::vector<std::string> extensions;
        for (const Reader& reader : readers()) {
            const std::vector<std::string> own = words(reader.extensions);
            if (reader.sequence) {
                extensions.insert(extensions.end(), own.begin(), own.end());
            }
        }
        file = sequenceInFolder(path, extensions);
    }
    const OpenRequest request{reading, cacheBytes, false, trust};
    auto source = openPlain(file, request, progress);
    if (source->clips()[0].isSequence()) {
        if (!reading.clipFiles.empty()) {
            source = withClipFiles(std::move(source), file, request, progress);
        }
        // Scenes subdivide what they pose from; here there are only poses.
        source = subdivideFrames(std::move(source), reading.subdivisions);
    }
    return adjust(std::move(source), reading);
}

} // namespace ripple::source
