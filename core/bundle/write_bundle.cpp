#include "bundle/write_bundle.h"

#include "base/files.h"
#include "base/parallel.h"
#include "base/version.h"
#include "bundle/import_notes.h"
#include "bundle/mesh_file.h"
#include "mesh/uv_sets.h"
#include "bundle/read_bundle.h"
#include "bundle/whole_folder.h"
#include "emit/glsl_reader.h"
#include "image/exr.h"
#include "image/png.h"

#include <algorithm>

namespace ripple::bundle {

namespace {

/// An empty folder, or one that holds the files of a bundle (which may be damaged) and nothing else.
bool mayReplace(const std::filesystem::path& path) {
    constexpr std::string_view kManifest = ".bundle.json";
    std::error_code error;
    if (!std::filesystem::is_directory(path, error)) {
        return false;
    }
    std::vector<std::string> names;
    std::string stem;
    for (std::filesystem::directory_iterator it(path, error), end; !error && it != end; it.increment(error)) {
        names.push_back(it->path().filename().string());
        if (names.back().ends_with(kManifest)) {
            stem = names.back().substr(0, names.back().size() - kManifest.size());
        }
    }
    return !error && std::all_of(names.begin(), names.end(), [&](const std::string& name) {
        return !stem.empty() && (name == "IMPORT.md" || name.starts_with(stem + "."));
    });
}

base::Bytes textBytes(const std::string& text) {
    const auto bytes = base::asBytes(text);
    return base::Bytes(bytes.begin(), bytes.end());
}

FileEntry entryOf(const PlannedFile& file) {
    FileEntry entry;
    entry.file = file.file;
    entry.bytes = file.bytes.size();
    entry.sha256 = base::sha256(file.bytes);
    entry.isTexture = file.isTexture;
    entry.import.channels = file.channels;
    return entry;
}

std::string channelsOf(const bake::Texture& texture) {
    return std::string("RGBA").substr(0, texture.channelsUsed);
}

/// The manifest as far as it is known from the bake itself.
Manifest describe(const source::FrameSource& source, const bake::Baked& baked, const std::string& name,
                  const SourceNote& note) {
    Manifest manifest;
    const mesh::Mesh& mesh = source.mesh();
    const bake::TextureSet& set = baked.textures;
    manifest.generator = base::generatorName();
    manifest.name = name;
    manifest.meshFile = name + ".glb";
    manifest.vertices = mesh.vertexCount();
    manifest.triangles = mesh.triangleCount();
    manifest.lookupUvSet = mesh::freeUvSet(mesh);
    manifest.pivotUvSet = pivotUvSet(mesh);
    for (const bake::Texture& texture : set.textures) {
        manifest.textureFiles.push_back(name + "." + bake::fileRole(set, texture.role) +
                                        bake::extensionOf(texture.image.pixel));
    }
    manifest.bounds = baked.bounds;
    manifest.sourceReading = note.reading;
    manifest.sourceFps = note.fps;
    manifest.sourceStep = note.step;
    manifest.sourceFade = note.fade;
    // Everything but the pixels, which the manifest does not carry.
    bake::TextureSet& own = manifest.textures;
    own.kind = set.kind;
    own.content = set.content;
    own.positionStore = set.positionStore;
    own.normalStore = set.normalStore;
    own.normalsInAlpha = set.normalsInAlpha;
    own.tangents = set.tangents;
    own.ranges = set.ranges;
    own.normalRange = set.normalRange;
    own.layout = set.layout;
    own.clips = set.clips;
    own.textures = bake::expectedTextures(own);
    return manifest;
}

base::Bytes encodeMeshOf(const source::FrameSource& source, const bake::Baked& baked,
                         const std::string& name) {
    std::vector<glm::vec2> lookup;
    lookup.reserve(baked.columnOfVertex.size());
    for (const std::uint32_t column : baked.columnOfVertex) {
        lookup.push_back(baked.textures.layout.lookupUv(column));
    }
    return encodeMesh(source.mesh(), lookup, PivotUvs{baked.columnOfVertex, baked.textures.pivots}, name);
}

/// Writes one texture by and by and describes the file.
FileEntry writeTexture(const bake::Texture& texture, const std::filesystem::path& path) {
    const bool exr = path.extension() == ".exr";
    (exr ? image::writeExr : image::writePng)(texture.image, path);
    FileEntry entry;
    entry.file = path.filename().string();
    entry.bytes = std::filesystem::file_size(path);
    entry.sha256 = base::sha256OfFile(path);
    entry.isTexture = true;
    entry.import.channels = channelsOf(texture);
    return entry;
}

} // namespace

SourceNote noteOf(const source::Reading& reading, const bake::Recipe& recipe) {
    return {reading, recipe.fps, recipe.thin > 0.0 ? 1 : recipe.step, recipe.fadeFrames};
}

EncodedBundle encodeBundle(const source::FrameSource& source, const bake::Baked& baked,
                           const std::string& name, const SourceNote& note, const base::Progress& progress) {
    EncodedBundle bundle;
    bundle.manifest = describe(source, baked, name, note);
    const bake::TextureSet& set = baked.textures;
    bundle.files.push_back({bundle.manifest.meshFile, encodeMeshOf(source, baked, name), false, {}});
    for (std::size_t t = 0; t < set.textures.size(); ++t) {
        bundle.files.push_back({bundle.manifest.textureFiles[t], {}, true, channelsOf(set.textures[t])});
    }
    // Compressing is most of the work, and a PNG is compressed by one thread alone: all textures at once.
    base::parallelFor(set.textures.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t t = begin; t < end; ++t) {
            progress.checkpoint();
            const image::Image& picture = set.textures[t].image;
            const bool exr = bundle.manifest.textureFiles[t].ends_with(".exr");
            bundle.files[t + 1].bytes = exr ? image::encodeExr(picture) : image::encodePng(picture);
        }
    });
    bundle.files.push_back({name + ".glsl", textBytes(emit::glslReader(name, set, baked.bounds)), false, {}});
    for (const PlannedFile& file : bundle.files) {
        bundle.manifest.files.push_back(entryOf(file));
    }
    return bundle;
}

namespace {

/// Bakes and writes mesh, textures and code. What was baked is gone from memory afterwards.
Manifest writeFiles(const source::FrameSource& source, const bake::SamplePlan& plan,
                    const bake::Recipe& recipe, const SourceNote& note, const std::string& name,
                    const std::filesystem::path& folder, base::Progress& progress) {
    progress.stage(0.0, 0.5);
    bake::Baked baked = bake::bake(source, plan, recipe, progress);
    progress.stage(0.5, 0.75);
    Manifest manifest = describe(source, baked, name, note);
    const auto write = [&](const PlannedFile& file) {
        base::writeFile(folder / file.file, file.bytes);
        return entryOf(file);
    };
    bake::TextureSet& set = baked.textures;
    std::vector<FileEntry> entries(set.textures.size());
    base::parallelFor(entries.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t t = begin; t < end; ++t) {
            entries[t] = writeTexture(set.textures[t], folder / manifest.textureFiles[t]);
            progress.checkpoint();
        }
    });
    const FileEntry code =
        write({name + ".glsl", textBytes(emit::glslReader(name, set, baked.bounds)), false, {}});
    // The pixels make room before the mesh is put together; it is listed first all the same.
    set.textures.clear();
    manifest.files.push_back(write({manifest.meshFile, encodeMeshOf(source, baked, name), false, {}}));
    manifest.files.insert(manifest.files.end(), entries.begin(), entries.end());
    manifest.files.push_back(code);
    return manifest;
}

} // namespace

Manifest writeBundle(const source::FrameSource& source, const bake::Recipe& recipe,
                     const source::Reading& reading, const std::filesystem::path& directory,
                     base::Progress& progress) {
    WholeFolder folder(directory, &mayReplace);
    const std::string name = folder.target().filename().string();
    const bake::SamplePlan plan = bake::planSampling(source, recipe, progress);
    Manifest manifest =
        writeFiles(source, plan, recipe, noteOf(reading, recipe), name, folder.path(), progress);
    progress.stage(0.75, 1.0);
    {
        Bundle written = readBundle(folder.path(), manifest);
        written.mesh.indices = {}; // not looked at any more
        written.mesh.uvSets = {};
        const bake::TextureReader reader = written.reader();
        manifest.error = bake::measureError(source, plan, {}, reader, manifest.textures.clips, progress);
    }
    PlannedFile notes{"IMPORT.md", textBytes(importNotes(manifest)), false, {}};
    base::writeFile(folder.path() / notes.file, notes.bytes);
    manifest.files.push_back(entryOf(notes));
    base::writeFile(folder.path() / (name + ".bundle.json"), manifestText(manifest));
    progress.checkpoint();
    folder.commit();
    progress.report(1.0);
    return manifest;
}

} // namespace ripple::bundle
