#include "bundle/returned.h"

#include "bake/compare_poses.h"
#include "bake/texture_reader.h"
#include "base/files.h"
#include "base/progress.h"
#include "bundle/check_score.h"
#include "bundle/instants.h"
#include "bundle/missampling.h"
#include "bundle/texture_damage.h"
#include "emit/identifier.h"
#include "image/exr.h"
#include "image/png.h"
#include "source/open.h"

#include <algorithm>

#include <glm/geometric.hpp>

namespace ripple::bundle {

namespace {

/// Plays the bundle as it is and as it came back, at some instants of each clip.
class Comparison {
public:
    Comparison(const Bundle& bundle, const base::Progress& progress)
        : bundle_(bundle),
          progress_(progress),
          own_(bundle.reader()),
          instants_(someInstants(bundle.manifest.textures.clips)) {}

    bake::ErrorReport withImage(std::size_t texture, const image::Image& image) const {
        bake::TextureSet set = bundle_.textures;
        set.images[texture] = asSampled(image, set.images[texture]);
        return apart({set, bundle_.columnOfVertex, bundle_.mesh.positions, bundle_.mesh.normals});
    }
    bake::ErrorReport withSampling(const Sampling& sampling) const {
        bake::TextureSet set = bundle_.textures;
        sampleSo(sampling, set);
        return apart({set, bundle_.columnOfVertex, bundle_.mesh.positions, bundle_.mesh.normals});
    }
    bake::ErrorReport withColumns(std::span<const std::uint32_t> columnOfVertex) const {
        return apart({bundle_.textures, columnOfVertex, bundle_.mesh.positions, bundle_.mesh.normals});
    }

private:
    bake::ErrorReport apart(const bake::TextureReader& other) const {
        const auto by = [&](const bake::TextureReader& reader) {
            return [&](std::size_t i, std::span<glm::vec3> positions, std::span<glm::vec3> normals) {
                reader.at(bundle_.manifest.textures.clips[instants_[i].clip], instants_[i].frame, positions,
                          normals);
            };
        };
        return bake::comparePoses(bundle_.mesh.vertexCount(), instants_.size(), by(own_), by(other),
                                  progress_);
    }

    const Bundle& bundle_;
    const base::Progress& progress_;
    bake::TextureReader own_;
    std::vector<Instant> instants_;
};

/// The file in the folder that bears this name with one of the endings.
std::optional<std::filesystem::path> sameNamed(const std::filesystem::path& folder, const std::string& file,
                                               std::initializer_list<const char*> endings) {
    const std::string stem = std::filesystem::path(file).stem().string();
    std::error_code error;
    if (std::filesystem::is_regular_file(folder / file, error)) {
        return folder / file;
    }
    for (const char* ending : endings) {
        if (std::filesystem::is_regular_file(folder / (stem + ending), error)) {
            return folder / (stem + ending);
        }
    }
    return {};
}

image::Image readImage(const std::filesystem::path& file) {
    return base::extensionOf(file) == ".exr" ? image::readExr(file) : image::readPng(file);
}

ReturnedFile compareTexture(const Bundle& bundle, const Comparison& comparison, std::size_t t,
                            const std::filesystem::path& file) {
    const image::Image given = readImage(file);
    const std::size_t rows = rowsPerFrame(bundle.textures, t);
    ReturnedFile returned;
    returned.file = bundle.manifest.textureFiles[t];
    returned.changes = changesOfTexture(bundle.textures.images[t], given, rows);
    if (returned.changes.empty()) {
        return returned;
    }
    const bake::ErrorReport all = comparison.withImage(t, given);
    returned.metres = all.all.max;
    returned.degrees = all.normalMaxDegrees;
    for (Change& change : returned.changes) {
        const auto words = std::ranges::find(textureDamages(), change.id,
                                             [](const DamageWords& each) { return std::string(each.id); });
        const bool alone = returned.changes.size() == 1;
        const bake::ErrorReport cost =
            alone || words == textureDamages().end()
                ? all
                : comparison.withImage(t, damagedBy(words->damage, bundle.textures.images[t], rows));
        if (alone || words != textureDamages().end()) {
            change.metres = cost.all.max;
            change.degrees = cost.normalMaxDegrees;
        }
    }
    return returned;
}

ReturnedFile compareMesh(const Bundle& bundle, const Comparison& comparison,
                         const std::filesystem::path& file) {
    ReturnedFile returned;
    returned.file = bundle.manifest.meshFile;
    const auto source = source::open(file);
    MeshChanges found = changesOfMesh(bundle, source->mesh());
    const bake::ErrorReport cost = comparison.withColumns(found.columnOfVertex);
    returned.metres = cost.all.max;
    returned.degrees = std::max(found.degrees > 1.0 ? found.degrees : 0.0, cost.normalMaxDegrees);
    for (Change& change : found.changes) {
        const bool vToo = std::ranges::find(found.changes, "v-flipped", &Change::id) != found.changes.end();
        if (change.id == "half-uvs" && vToo) {
            const bake::ErrorReport rounded = comparison.withSampling({.halfUvs = true});
            change.metres = rounded.all.max;
            change.degrees = rounded.normalMaxDegrees;
        } else if (change.id == "half-uvs" || change.id == "lookup-changed") {
            change.metres = cost.all.max;
            change.degrees = cost.normalMaxDegrees;
        } else if (change.id == "v-flipped") {
            const bake::ErrorReport turned = comparison.withSampling({.vTurned = true});
            change.metres = turned.all.max;
            change.degrees = turned.normalMaxDegrees;
        }
        returned.metres = std::max(returned.metres, change.metres.value_or(0.0));
    }
    returned.changes = std::move(found.changes);
    return returned;
}

} // namespace

bool ReturnedReport::ok() const {
    return problems.empty() &&
           std::ranges::all_of(files, [](const ReturnedFile& file) { return file.changes.empty(); });
}

ReturnedReport checkReturned(const std::filesystem::path& directory, const std::filesystem::path& returned,
                             const base::Progress& progress) {
    ReturnedReport report;
    if (std::error_code error; !std::filesystem::is_directory(returned, error)) {
        report.problems.push_back(
            {returned.string(), "is no folder",
             "name the folder in which the engine's files lie, under their names in the bundle"});
        return report;
    }
    const auto look = [&](const std::string& name, std::initializer_list<const char*> endings,
                          const auto& compare) {
        const auto file = sameNamed(returned, name, endings);
        if (!file) {
            return;
        }
        try {
            report.files.push_back(compare(*file));
        } catch (const base::Failure& failure) {
            report.problems.push_back(failure.problem());
        }
    };
    const std::initializer_list<const char*> meshes = {".glb", ".gltf", ".obj", ".ply"};
    std::string name;
    if (holdsScore(directory)) {
        const ScoreBundle bundle = readScoreBundle(directory);
        name = bundle.manifest.name;
        look(bundle.manifest.meshFile, meshes, [&](const auto& file) {
            return changesOfScoreMesh(bundle, source::open(file)->mesh(), progress);
        });
    } else {
        const Bundle bundle = readBundle(directory);
        name = bundle.manifest.name;
        const Comparison comparison(bundle, progress);
        for (std::size_t t = 0; t < bundle.manifest.textureFiles.size(); ++t) {
            look(bundle.manifest.textureFiles[t], {".png", ".exr"},
                 [&](const auto& file) { return compareTexture(bundle, comparison, t, file); });
        }
        look(bundle.manifest.meshFile, meshes,
             [&](const auto& file) { return compareMesh(bundle, comparison, file); });
    }
    const std::string id = emit::identifier(name);
    for (ReturnedFile& file : report.files) {
        for (Change& change : file.changes) {
            change.prevention = withNames(change.prevention, id);
        }
    }
    if (report.files.empty() && report.problems.empty()) {
        report.problems.push_back({returned.string(), "holds no file that is named as one of the bundle's",
                                   "keep the files' names when they are written again"});
    }
    return report;
}

} // namespace ripple::bundle
