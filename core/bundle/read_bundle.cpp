#include "bundle/read_bundle.h"

#include "bake/kind.h"
#include "base/files.h"
#include "base/units.h"
#include "bundle/mesh_file.h"
#include "image/exr.h"
#include "image/png.h"
#include "source/open.h"

namespace ripple::bundle {

namespace {

constexpr const char* kSuffix = ".bundle.json";

image::Image readTexture(const std::filesystem::path& path, const bake::TextureFormat& wanted) {
    const std::string where = path.filename().string();
    image::Image image = base::extensionOf(path) == ".exr" ? image::readExr(path) : image::readPng(path);
    if (image.width != wanted.width || image.height != wanted.height) {
        base::fail(where,
                   "is " + std::to_string(image.width) + " × " + std::to_string(image.height) +
                       " texels, the manifest says " + std::to_string(wanted.width) + " × " +
                       std::to_string(wanted.height),
                   "it was resized; write the bundle again and keep its size");
    }
    if (image.pixel != wanted.pixel || image.channels != wanted.channels) {
        base::fail(where, "holds another kind of pixels than the manifest says",
                   "it was converted; write the bundle again and keep its format");
    }
    return image;
}

} // namespace

std::filesystem::path insideBundle(const std::filesystem::path& directory, const std::string& file) {
    const std::filesystem::path name(file);
    if (file.empty() || name.filename() != name) {
        base::fail((directory / "manifest").string(),
                   "names the file \"" + file + "\", which is not in its folder", "write the bundle again");
    }
    return directory / name;
}

std::filesystem::path manifestFile(const std::filesystem::path& directory) {
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
    return found[0];
}

Manifest readManifest(const std::filesystem::path& directory) {
    const std::filesystem::path file = manifestFile(directory);
    const base::Bytes bytes = base::readFile(file);
    return parseManifest(std::string(base::asText(bytes)), file.filename().string());
}

Bundle readBundle(const std::filesystem::path& directory) {
    return readBundle(directory, readManifest(directory));
}

Bundle readBundle(const std::filesystem::path& directory, Manifest manifest) {
    Bundle bundle;
    const bake::BakeFormat& set = manifest.textures;
    bundle.mesh = source::open(insideBundle(directory, manifest.meshFile))->mesh();
    if (bundle.mesh.vertexCount() != manifest.vertices || manifest.lookupUvSet >= bundle.mesh.uvSets.size()) {
        base::fail(manifest.meshFile,
                   "has " + std::to_string(bundle.mesh.vertexCount()) + " vertices and " +
                       std::to_string(bundle.mesh.uvSets.size()) + " UV sets, the manifest says " +
                       std::to_string(manifest.vertices) + " and lookup set " +
                       std::to_string(manifest.lookupUvSet),
                   "the mesh was changed; write the bundle again");
    }
    // In UV sets influences have no columns: the layout is that of the transforms.
    if (!set.joints.inUvs && set.layout.columns > bundle.mesh.vertexCount()) {
        base::fail(directory.string(),
                   "its manifest says " + base::plural(set.layout.columns, "column") + " for " +
                       base::plural(bundle.mesh.vertexCount(), "vertex"),
                   "write the bundle again");
    }
    static_cast<bake::BakeFormat&>(bundle.textures) = set;
    takeUvSets(bundle.mesh, manifest.lookupUvSet, manifest.meshFile, bundle.textures, bundle.columnOfVertex);
    // After the mesh, whose reading takes several times its size for a while.
    for (std::size_t t = 0; t < set.textures.size(); ++t) {
        bundle.textures.images.push_back(
            readTexture(insideBundle(directory, manifest.textureFiles[t]), set.textures[t]));
    }
    bundle.manifest = std::move(manifest);
    return bundle;
}

} // namespace ripple::bundle
