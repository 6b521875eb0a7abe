#include "bundle/write_bundle.h"

#include "bake/bounds_between.h"
#include "bake/kind.h"
#include "bake/room.h"
#include "base/files.h"
#include "base/parallel.h"
#include "base/progress.h"
#include "base/text.h"
#include "base/version.h"
#include "bundle/earlier_bundle.h"
#include "bundle/import_notes.h"
#include "bundle/mesh_file.h"
#include "bundle/read_bundle.h"
#include "bundle/test_moments.h"
#include "bundle/whole_folder.h"
#include "emit/reader_code.h"
#include "image/exr.h"
#include "image/png.h"
#include "mesh/uv_sets.h"
#include "source/gltf_write.h"
#include "source/in_space.h"

#include <algorithm>

namespace ripple::bundle {

namespace {

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

std::string channelsOf(const bake::TextureFormat& texture) {
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
    manifest.lookupUvSet = note.lookupUvSet.value_or(mesh::freeUvSet(mesh));
    manifest.textures = set; // but for the pixels
    manifest.textures.pivotUvSet = pivotUvSet(mesh, manifest.lookupUvSet);
    for (const bake::TextureFormat& texture : set.textures) {
        manifest.textureFiles.push_back(name + "." + texture.fileRole() + bake::extensionOf(texture.pixel));
    }
    manifest.bounds = baked.bounds;
    manifest.findings = baked.findings;
    manifest.origin = note.origin;
    manifest.target = note.delivery.target;
    manifest.page = note.delivery.page;
    manifest.target.putInto(manifest.textures);
    manifest.sourceFps = note.fps;
    manifest.sourceStep = note.step;
    manifest.sourceOversampling = note.oversampling;
    manifest.sourceFade = note.fade;
    for (const bake::BakedClip& clip : set.clips) {
        const auto chosen = std::find_if(note.clips.begin(), note.clips.end(),
                                         [&](const auto& choice) { return choice.name == clip.sourceName; });
        manifest.clipRates.push_back(chosen == note.clips.end() ? 0.0 : chosen->fps);
    }
    return manifest;
}

/// The mesh's file; what it says of levels of detail goes into the manifest.
base::Bytes encodeMeshOf(const source::FrameSource& source, const bake::Baked& baked, std::size_t levels,
                         Manifest& manifest, const base::Progress& progress) {
    const std::vector<std::vector<glm::vec2>> sets = uvSetsOf(baked.textures, baked.columnOfVertex);
    const mesh::Mesh mesh = baked.shippedMesh(source.mesh());
    tinygltf::Model model =
        meshModel(mesh, sets[0], manifest.lookupUvSet, std::span(sets).subspan(1), manifest.name);
    if (levels > 0) {
        const bake::TextureReader reader = baked.reader(source.mesh());
        manifest.levels = addLevels(
            mesh, levelsOf(mesh, reader, baked.textures.clips, std::min(levels, kMostLevels), progress),
            model);
    }
    return source::glbBytes(model, manifest.meshFile);
}

emit::ReaderPlaces placesOf(const Manifest& manifest, const mesh::Mesh& mesh) {
    emit::ReaderPlaces places{manifest.lookupUvSet, manifest.textures.pivotUvSet, std::nullopt};
    const std::size_t base = mesh.materials.empty() ? 0 : mesh.materials.front().baseColourUvSet;
    if (base < mesh.uvSets.size() && base != manifest.lookupUvSet) {
        places.baseUvSet = base;
    }
    return places;
}

/// The page of a bake; `mesh` as it is shipped. As pageText().
std::string pageOf(const Manifest& manifest, const mesh::Mesh& mesh,
                   const std::function<base::Bytes(const std::string& file)>& fileBytes) {
    const bake::BakeFormat& format = manifest.textures;
    const emit::Dialect& glsl = emit::glsl();
    const PageContent content{
        false,
        emit::readerStage(glsl, manifest.name, format, manifest.bounds, placesOf(manifest, mesh)),
        glsl.asFile(emit::identifier(manifest.name),
                    emit::readerCode(glsl, manifest.name, format, manifest.bounds)),
        emit::readerCost(format, manifest.bounds).pose,
        manifest.textureFiles,
        format.layout.testRow,
        &mesh};
    return pageText(manifest, content, manifest.page, manifestText(manifest), fileBytes);
}

/// The functions in each language, and a whole vertex stage that calls them: names and texts.
std::vector<std::pair<std::string, std::string>> codeFiles(const Manifest& manifest, const mesh::Mesh& mesh) {
    std::vector<std::pair<std::string, std::string>> files;
    const emit::ReaderPlaces places = placesOf(manifest, mesh);
    const std::string& name = manifest.name;
    for (const emit::Dialect* dialect : dialectsOf(manifest.target)) {
        files.emplace_back(
            name + "." + dialect->id(),
            dialect->asFile(emit::identifier(name),
                            emit::readerCode(*dialect, name, manifest.textures, manifest.bounds)));
        files.emplace_back(name + ".vertex." + dialect->id(),
                           emit::readerExample(*dialect, name, manifest.textures, manifest.bounds, places,
                                               manifest.target.bySeconds));
    }
    return files;
}

/// Writes one texture by and by and describes the file.
FileEntry writeTexture(const bake::TextureFormat& format, const image::Image& pixels,
                       const std::filesystem::path& path) {
    const bool exr = path.extension() == ".exr";
    (exr ? image::writeExr : image::writePng)(pixels, path);
    FileEntry entry;
    entry.file = path.filename().string();
    std::error_code error;
    entry.bytes = std::filesystem::file_size(path, error);
    entry.sha256 = base::sha256OfFile(path);
    entry.isTexture = true;
    entry.import.channels = channelsOf(format);
    return entry;
}

} // namespace

void takeBounds(std::vector<mesh::Bounds> ofClips, Manifest& manifest) {
    manifest.bounds = {};
    for (mesh::Bounds& own : ofClips) {
        own = manifest.textures.space.of(own); // measured in metres
        manifest.bounds.add(own);
    }
    manifest.clipBounds = std::move(ofClips);
}

void takeError(const bake::ErrorReport& error, Manifest& manifest) {
    manifest.error = error;
    if (!error.clipBounds.empty()) {
        takeBounds(error.clipBounds, manifest);
    }
}

std::shared_ptr<const source::FrameSource> inTarget(const source::FrameSource& source, const Target& target) {
    const std::shared_ptr<const source::FrameSource> plain(std::shared_ptr<const void>(), &source);
    return target.space().changes() ? std::make_shared<source::InSpace>(plain, target.space()) : plain;
}

namespace {

/// What a reader gets is in the source's own space; so is the pose that its mesh is shipped in.
bake::Baked readFrom(const source::FrameSource& source, const Target& target, bake::Baked baked) {
    target.putInto(baked.textures);
    if (baked.rig && target.space().changes()) {
        baked.rig = source.rig();
    }
    target.requireReadable(baked.textures);
    return baked;
}

} // namespace

bake::Baked bakeFor(const Target& target, const source::FrameSource& source, const bake::SamplePlan& plan,
                    const bake::Recipe& recipe, const base::Progress& progress) {
    return readFrom(source, target, bake::bake(*inTarget(source, target), plan, recipe, progress));
}

SourceNote noteOf(const Origin& origin, const bake::Recipe& recipe, const Delivery& delivery) {
    return {origin,
            recipe.fps,
            recipe.thin > 0.0 ? 1 : recipe.step,
            recipe.fadeFrames,
            recipe.lookupUvSet,
            bake::oversamplingOf(recipe),
            recipe.clips,
            delivery};
}

std::function<base::Bytes(const std::string& file)> bytesIn(const std::vector<PlannedFile>& files) {
    return [&files](const std::string& file) {
        return std::ranges::find(files, file, &PlannedFile::file)->bytes;
    };
}

EncodedBundle encodeBundle(const source::FrameSource& source, const bake::Baked& baked,
                           const std::string& name, const SourceNote& note, const base::Progress& progress,
                           const bake::ErrorReport* error) {
    EncodedBundle bundle;
    bundle.manifest = describe(source, baked, name, note);
    bundle.manifest.target.requireReadable(bundle.manifest.textures);
    if (error) {
        takeError(*error, bundle.manifest);
    }
    const bake::TextureSet& set = baked.textures;
    base::Bytes meshBytes = encodeMeshOf(source, baked, note.delivery.levels, bundle.manifest, progress);
    bundle.files.push_back({bundle.manifest.meshFile, std::move(meshBytes), false, {}});
    for (std::size_t t = 0; t < set.textures.size(); ++t) {
        bundle.files.push_back({bundle.manifest.textureFiles[t], {}, true, channelsOf(set.textures[t])});
    }
    // Compressing is most of the work, and a PNG is compressed by one thread alone: all textures at once.
    base::parallelFor(set.textures.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t t = begin; t < end; ++t) {
            progress.checkpoint();
            const image::Image& picture = set.images[t];
            const bool exr = bundle.manifest.textureFiles[t].ends_with(".exr");
            bundle.files[t + 1].bytes = exr ? image::encodeExr(picture) : image::encodePng(picture);
        }
    });
    for (const auto& [file, text] : codeFiles(bundle.manifest, source.mesh())) {
        bundle.files.push_back({file, textBytes(text), false, {}});
    }
    const bake::TextureReader reader = baked.reader(source.mesh());
    bundle.files.push_back(
        {testFileOf(name),
         textBytes(testText(testOf(bundle.manifest, reader, baked.shippedPositions(source.mesh())))),
         false,
         {}});
    for (const PlannedFile& file : bundle.files) {
        bundle.manifest.files.push_back(entryOf(file));
    }
    if (bundle.manifest.page != Page::none) {
        const std::string page =
            pageOf(bundle.manifest, baked.shippedMesh(source.mesh()), bytesIn(bundle.files));
        bundle.files.push_back({pageFileOf(name), textBytes(page), false, {}});
        bundle.manifest.files.push_back(entryOf(bundle.files.back()));
    }
    return bundle;
}

namespace {

/// Poses of so many bytes are kept from baking for measuring; of more the source is asked again, which costs
/// time where normals are made from triangles, and not memory.
constexpr std::size_t kHeldPoses = std::size_t{400} << 20;

/// Poses of all kept frames, or null where they are too many.
std::unique_ptr<const bake::Frames> heldPoses(const source::FrameSource& source, const bake::SamplePlan& plan,
                                              const base::Progress& progress) {
    const std::size_t bytes = plan.frameCount() * source.mesh().vertexCount() * 2 * sizeof(glm::vec3);
    return bytes > kHeldPoses
               ? nullptr
               : std::make_unique<const bake::Frames>(bake::sampleFrames(source, plan, progress));
}

/// Bakes and writes mesh and textures. What was baked is gone from memory afterwards.
Manifest writeFiles(const source::FrameSource& source, const bake::SamplePlan& plan, const bake::Frames* held,
                    const bake::Recipe& recipe, const SourceNote& note, const std::string& name,
                    const std::filesystem::path& folder, base::Progress& progress) {
    progress.stage(held ? 0.3 : 0.0, 0.5);
    const Target& target = note.delivery.target;
    bake::Baked baked =
        held ? readFrom(source, target,
                        bake::encodeFrames(*inTarget(source, target), plan, *held, recipe, progress))
             : bakeFor(target, source, plan, recipe, progress);
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
            entries[t] = writeTexture(set.textures[t], set.images[t], folder / manifest.textureFiles[t]);
            progress.checkpoint();
        }
    });
    // The pixels make room before the mesh is put together, unless levels are measured by them; it is listed
    // first all the same.
    if (note.delivery.levels == 0) {
        set.textures.clear();
        set.images.clear();
    }
    base::Bytes meshBytes = encodeMeshOf(source, baked, note.delivery.levels, manifest, progress);
    manifest.files.push_back(write({manifest.meshFile, std::move(meshBytes), false, {}}));
    manifest.files.insert(manifest.files.end(), entries.begin(), entries.end());
    return manifest;
}

} // namespace

std::string bundleName(const std::filesystem::path& directory) {
    std::filesystem::path plain = directory.lexically_normal();
    plain = plain.has_filename() ? plain : plain.parent_path();
    std::string name = plain.filename().string();
    if (name.empty() || name == "." || name == "..") {
        name = base::resolved(directory).filename().string();
    }
    const bool control = std::any_of(
        name.begin(), name.end(), [](char c) { return static_cast<unsigned char>(c) < 0x20 || c == 0x7F; });
    if (name.empty() || control || name != base::likelyUtf8(name)) {
        base::fail(directory.empty() ? "the bundle's folder" : directory.string(),
                   name.empty() ? "is not named"
                   : control    ? "has a last part with a control character in it"
                                : "has a last part that is not UTF-8",
                   "name a folder whose last part is to be the bundle's name");
    }
    return name;
}

Manifest writeBundle(const source::FrameSource& source, const bake::Recipe& chosen, const Origin& origin,
                     const std::filesystem::path& directory, base::Progress& progress,
                     const Delivery& delivery) {
    const Target& target = delivery.target;
    const bake::Recipe recipe = target.fitted(chosen);
    const std::string name = bundleName(directory);
    const auto replaced = [&name](const std::filesystem::path& there) { return filesToReplace(there, name); };
    replaced(base::resolved(directory)); // what speaks against it is said before there is work
    WholeFolder folder(directory, [&progress] { progress.cancel(); });
    const bake::SamplePlan plan = bake::planSampling(source, recipe, progress);
    bake::requireFitting(recipe);
    bake::requireRoom(source, plan, recipe);
    progress.stage(0.0, 0.3);
    const std::unique_ptr<const bake::Frames> held = heldPoses(*inTarget(source, target), plan, progress);
    Manifest manifest = writeFiles(source, plan, held.get(), recipe, noteOf(origin, recipe, delivery), name,
                                   folder.path(), progress);
    progress.stage(0.75, 1.0);
    std::string test;
    std::vector<glm::vec3> restPositions;
    {
        Bundle written = readBundle(folder.path(), manifest);
        written.mesh.indices = {}; // not looked at any more
        written.mesh.uvSets = {};
        const bake::TextureReader reader = written.reader();
        const bool sameSpace = !target.space().changes();
        takeError(bake::measureError(source, plan, {sameSpace ? held.get() : nullptr, nullptr}, reader,
                                     manifest.textures.clips, progress),
                  manifest);
        if (manifest.textures.leavesFrames()) {
            takeBounds(bake::boundsBetween(reader, manifest.textures.clips, progress), manifest);
        }
        test = testText(testOf(manifest, reader, written.mesh.positions));
        restPositions = std::move(written.mesh.positions);
    }
    const auto write = [&](const std::string& file, const std::string& text) {
        const PlannedFile planned{file, textBytes(text), false, {}};
        base::writeFile(folder.path() / file, planned.bytes);
        manifest.files.push_back(entryOf(planned));
    };
    for (const auto& [file, text] : codeFiles(manifest, source.mesh())) {
        write(file, text);
    }
    write(testFileOf(name), test);
    write("IMPORT.md", importNotes(manifest));
    if (manifest.page != Page::none) {
        mesh::Mesh shipped = source.mesh();
        shipped.positions = std::move(restPositions);
        write(pageFileOf(name), pageOf(manifest, shipped, [&](const std::string& file) {
                  return base::readFile(folder.path() / file);
              }));
    }
    base::writeFile(folder.path() / (name + ".bundle.json"), manifestText(manifest));
    progress.checkpoint();
    const std::filesystem::path left = folder.commit(replaced);
    if (!left.empty()) {
        manifest.findings.push_back(
            {"earlier-bundle-left",
             base::Severity::look,
             {left.string(), "the earlier bundle could not be removed and lies there hidden",
              "remove it by hand; the new bundle is whole"}});
    }
    progress.report(1.0);
    return manifest;
}

} // namespace ripple::bundle
