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

base::Bytes encodeTexture(const image::Image& image, const std::string& extension) {
    return extension == ".exr" ? image::encodeExr(image) : image::encodePng(image);
}

FileEntry entryOf(const PlannedFile& file) {
    FileEntry entry;
    entry.file = file.file;
    entry.bytes = file.bytes.size();
    entry.sha256 = base::sha256(file.bytes);
    entry.isTexture = file.isTexture;
    return entry;
}

} // namespace

EncodedBundle encodeBundle(const source::FrameSource& source, const bake::Baked& baked,
                           const std::string& name, const SourceNote& note) {
    EncodedBundle bundle;
    Manifest& manifest = bundle.manifest;
    const mesh::Mesh& mesh = source.mesh();
    const bake::TextureSet& set = baked.textures;
    manifest.generator = base::generatorName();
    manifest.name = name;
    manifest.meshFile = name + ".glb";
    manifest.vertices = mesh.vertexCount();
    manifest.triangles = mesh.triangleCount();
    manifest.lookupUvSet = mesh::freeUvSet(mesh);
    manifest.positionFile = name + ".position" + set.positionStore.extension;
    manifest.normalFile = set.normalStore.stored() ? name + ".normal.png" : "";
    manifest.bounds = baked.bounds;
    manifest.sourceReading = note.reading;
    manifest.sourceFps = note.fps;
    manifest.sourceStep = note.step;
    // Everything but the images, which the manifest does not carry.
    manifest.textures.content = set.content;
    manifest.textures.positionStore = set.positionStore;
    manifest.textures.normalStore = set.normalStore;
    manifest.textures.range = set.range;
    manifest.textures.layout = set.layout;
    manifest.textures.clips = set.clips;

    std::vector<glm::vec2> lookup;
    for (const std::uint32_t column : baked.columnOfVertex) {
        lookup.push_back(set.layout.lookupUv(column));
    }
    bundle.files.push_back({manifest.meshFile, encodeMesh(mesh, lookup, name), false});
    bundle.files.push_back({manifest.positionFile, {}, true});
    if (set.normalStore.stored()) {
        bundle.files.push_back({manifest.normalFile, {}, true});
    }
    // Compressing is most of the work, and a PNG is compressed by one thread alone: both textures at once.
    base::parallelFor(bundle.files.size() - 1, 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) {
            const bool position = i == 0;
            bundle.files[i + 1].bytes = position ? encodeTexture(set.positions, set.positionStore.extension)
                                                 : encodeTexture(set.normals, ".png");
        }
    });
    bundle.files.push_back({name + ".glsl", textBytes(emit::glslReader(name, set, baked.bounds)), false});
    for (const PlannedFile& file : bundle.files) {
        manifest.files.push_back(entryOf(file));
    }
    return bundle;
}

Manifest writeBundle(const source::FrameSource& source, const bake::Recipe& recipe,
                     const source::Reading& reading, const std::filesystem::path& directory,
                     base::Progress& progress) {
    WholeFolder folder(directory, &mayReplace);
    const std::string name = folder.target().filename().string();
    progress.stage(0.0, 0.4);
    const bake::SamplePlan plan = bake::planSampling(source, recipe);
    const bake::Frames frames = bake::sampleFrames(source, plan, progress);
    progress.stage(0.4, 0.5);
    const bake::Baked baked = bake::encodeFrames(source, plan, frames, recipe, progress);
    progress.stage(0.5, 0.8);
    EncodedBundle encoded = encodeBundle(source, baked, name, {reading, recipe.fps, recipe.step});
    for (const PlannedFile& file : encoded.files) {
        progress.checkpoint();
        base::writeFile(folder.path() / file.file, file.bytes);
    }
    progress.stage(0.8, 1.0);
    Manifest& manifest = encoded.manifest;
    {
        const Bundle written = readBundle(folder.path(), manifest);
        const bake::TextureReader reader = written.reader();
        manifest.error = bake::measureError(source, plan, &frames, reader, manifest.textures.clips, progress);
    }
    PlannedFile notes{"IMPORT.md", textBytes(importNotes(manifest)), false};
    base::writeFile(folder.path() / notes.file, notes.bytes);
    manifest.files.push_back(entryOf(notes));
    base::writeFile(folder.path() / (name + ".bundle.json"), manifestText(manifest));
    progress.checkpoint();
    folder.commit();
    progress.report(1.0);
    return manifest;
}

} // namespace ripple::bundle
