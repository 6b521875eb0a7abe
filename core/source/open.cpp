#include "source/open.h"

#include "base/files.h"
#include "source/gltf_source.h"
#include "source/obj_sequence.h"

#include <array>
#include <sstream>

namespace ripple::source {

namespace {

constexpr std::array kReaders = {
    Reader{"glTF 2.0", ".gltf .glb", &openGltf},
    Reader{"OBJ sequence", ".obj", &openObjSequence},
};

bool lists(const char* extensions, const std::string& extension) {
    std::istringstream words(extensions);
    for (std::string word; words >> word;) {
        if (word == extension) {
            return true;
        }
    }
    return false;
}

} // namespace

std::span<const Reader> readers() {
    return kReaders;
}

std::shared_ptr<const FrameSource> open(const std::filesystem::path& path, const OpenOptions& options,
                                        const base::Progress& progress) {
    const std::string extension = base::extensionOf(path);
    std::string known;
    for (const Reader& reader : kReaders) {
        if (lists(reader.extensions, extension)) {
            return reader.open(path, options, progress);
        }
        known += (known.empty() ? "" : " ") + std::string(reader.extensions);
    }
    base::fail(path.string(), extension.empty() ? "the name has no extension" : "no reader for " + extension,
               "what can be read: " + known);
}

} // namespace ripple::source
