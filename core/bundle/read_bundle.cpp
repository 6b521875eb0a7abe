#include "bundle/read_bundle.h"

#include "base/files.h"
#include "image/exr.h"
#include "image/png.h"
#include "source/open.h"

#include <algorithm>

namespace ripple::bundle {

namespace {

constexpr const char* kSuffix = ".bundle.json";

std::filesystem::path inside(const std::filesystem::path& directory, const std::string& file) {
    const std::filesystem::path name(file);
    if (file.empty() || name.filename() != name) {
        base::fail((directory / "manifest").string(),
                   "names the file \"" + file + "\", which is not in its folder", "write the bundle again");
    }
    return directory / name;
}

image::Image readTexture(const std::filesystem::path& path, const bake::Layout& layout, image::Pixel pixel) {
    const base::Bytes bytes = base::readFile(path);
    const std::string where = path.filename().string();
    const bool exr = base::extensionOf(path) == ".exr";
    image::Image image = exr ? image::decodeExr(bytes, where) : image::decodePng(bytes, where);
    if (image.width != layout.width || image.height != layout.height()) {
        base::fail(where,
                   "is " + std::to_string(image.width) + " × " + std::to_string(image.height) +
                       " texels, the manifest says " + std::to_string(layout.width) + " × " +
                       std::to_string(layout.height()),
                   "it was resized; write the bundle again and keep its size");
    }
    if (image.pixel != pixel || image.channels != 3) {
        base::fail(where, "holds another kind of pixels than the manifest says",
                   "it was converted; write the bundle again and keep its format");
    }
    return image;
}

} // namespace

Manifest readManifest(const std::filesystem::path& directory) {
    std::error_code error;
    std::vector<std::filesystem::path> found;
    for (std::filesystem::directory_iterator it(directory, error), end; !error && it != end;
         it.increment(error)) {
        if (it->path().filename().string().ends_with(kSuffix)) {
            found.push_back(it->path());
        }
    }
    if (found.size() != 1) {
        base::fail(directory.string(),
                   found.empty() ? "is not a bundle: it has no *.bundle.json"
                                 : "has more than one *.bundle.json",
                   "name the folder that \"ripple bake\" wrote");
    }
    const base::Bytes bytes = base::readFile(found[0]);
    return parseManifest(std::string(base::asText(bytes)), found[0].filename().string());
}

Bundle readBundle(const std::filesystem::path& directory) {
    return readBundle(directory, readManifest(directory));
}

Bundle readBundle(const std::filesystem::path& directory, Manifest manifest) {
    Bundle bundle;
    bake::TextureSet& set = manifest.textures;
    set.positions =
        readTexture(inside(directory, manifest.positionFile), set.layout, set.positionStore.pixel);
    if (set.normalStore.stored()) {
        set.normals = readTexture(inside(directory, manifest.normalFile), set.layout, set.normalStore.pixel);
    }
    const auto source = source::open(inside(directory, manifest.meshFile));
    bundle.mesh = source->mesh();
    if (bundle.mesh.vertexCount() != manifest.vertices || manifest.lookupUvSet >= bundle.mesh.uvSets.size()) {
        base::fail(manifest.meshFile,
                   "has " + std::to_string(bundle.mesh.vertexCount()) + " vertices and " +
                       std::to_string(bundle.mesh.uvSets.size()) + " UV sets, the manifest says " +
                       std::to_string(manifest.vertices) + " and lookup set " +
                       std::to_string(manifest.lookupUvSet),
                   "the mesh was changed; write the bundle again");
    }
    for (std::size_t v = 0; v < bundle.mesh.vertexCount(); ++v) {
        const std::size_t column = set.layout.columnAt(bundle.mesh.uvSets[manifest.lookupUvSet][v]);
        if (column >= set.layout.columns) {
            base::fail(manifest.meshFile,
                       "vertex " + std::to_string(v) + " has a lookup UV outside the textures' first frame",
                       "its UV set " + std::to_string(manifest.lookupUvSet) +
                           " was made anew; write the bundle again");
        }
        bundle.columnOfVertex.push_back(static_cast<std::uint32_t>(column));
    }
    bundle.manifest = std::move(manifest);
    return bundle;
}

} // namespace ripple::bundle
