#include "bundle/returned.h"

#include "bake/texture_reader.h"
#include "base/files.h"
#include "base/progress.h"
#include "bundle/texture_damage.h"
#include "emit/identifier.h"
#include "image/exr.h"
#include "image/png.h"
#include "mesh/normals.h"
#include "source/open.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include <glm/geometric.hpp>

namespace ripple::bundle {

namespace {

/// How far the poses of two readers lie apart.
struct Apart {
    double metres = 0.0;
    double degrees = 0.0;
};

/// Plays the bundle as it is and as it came back, at some frames of each clip.
class Comparison {
public:
    Comparison(const Bundle& bundle, const base::Progress& progress)
        : bundle_(bundle),
          progress_(progress),
          own_(bundle.reader()) {
        const std::size_t frames = std::max<std::size_t>(bundle.textures.layout.blocks, 1);
        constexpr std::size_t kTried = 12;
        const auto& clips = bundle.manifest.textures.clips;
        for (std::size_t c = 0; c < clips.size(); ++c) {
            const std::size_t count =
                std::clamp<std::size_t>(kTried * clips[c].length() / frames, 1, clips[c].length());
            for (std::size_t k = 0; k < count; ++k) {
                moments_.push_back(
                    {c, std::floor(static_cast<float>(k * clips[c].length()) / static_cast<float>(count))});
            }
        }
    }

    Apart withImage(std::size_t texture, const image::Image& image) const {
        bake::TextureSet set = bundle_.textures;
        set.images[texture] = asSampled(image, set.images[texture]);
        return apart({set, bundle_.columnOfVertex, bundle_.mesh.positions, bundle_.mesh.normals});
    }
    Apart withColumns(std::span<const std::uint32_t> columnOfVertex) const {
        return apart({bundle_.textures, columnOfVertex, bundle_.mesh.positions, bundle_.mesh.normals});
    }

private:
    Apart apart(const bake::TextureReader& other) const {
        const std::size_t count = bundle_.mesh.vertexCount();
        std::vector<glm::vec3> p(count), n(count), q(count), m(count);
        Apart most;
        for (const auto& [clip, frame] : moments_) {
            progress_.checkpoint();
            own_.at(bundle_.manifest.textures.clips[clip], frame, p, n);
            other.at(bundle_.manifest.textures.clips[clip], frame, q, m);
            for (std::size_t v = 0; v < count; ++v) {
                // What is no number is as far off as can be.
                const auto off = static_cast<double>(glm::distance(p[v], q[v]));
                most.metres =
                    std::isfinite(off) ? std::max(most.metres, off) : std::numeric_limits<double>::infinity();
                most.degrees = std::max(most.degrees, mesh::degreesBetween(n[v], m[v]));
            }
        }
        return most;
    }

    const Bundle& bundle_;
    const base::Progress& progress_;
    bake::TextureReader own_;
    struct Moment {
        std::size_t clip = 0;
        float frame = 0.0f;
    };
    std::vector<Moment> moments_;
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
    const Apart all = comparison.withImage(t, given);
    returned.metres = all.metres;
    returned.degrees = all.degrees;
    for (Change& change : returned.changes) {
        const auto words = std::ranges::find(textureDamages(), change.id,
                                             [](const DamageWords& each) { return std::string(each.id); });
        const bool alone = returned.changes.size() == 1;
        const Apart cost =
            alone || words == textureDamages().end()
                ? all
                : comparison.withImage(t, damagedBy(words->damage, bundle.textures.images[t], rows));
        if (alone || words != textureDamages().end()) {
            change.metres = cost.metres;
            change.degrees = cost.degrees;
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
    const Apart cost = comparison.withColumns(found.columnOfVertex);
    returned.metres = cost.metres;
    returned.degrees = std::max(found.degrees > 1.0 ? found.degrees : 0.0, cost.degrees);
    for (Change& change : found.changes) {
        if (change.id == "half-uvs" || change.id == "lookup-changed") {
            change.metres = cost.metres;
            change.degrees = cost.degrees;
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
    const Bundle bundle = readBundle(directory);
    const Comparison comparison(bundle, progress);
    ReturnedReport report;
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
    for (std::size_t t = 0; t < bundle.manifest.textureFiles.size(); ++t) {
        look(bundle.manifest.textureFiles[t], {".png", ".exr"},
             [&](const auto& file) { return compareTexture(bundle, comparison, t, file); });
    }
    look(bundle.manifest.meshFile, {".glb", ".gltf", ".obj", ".ply"},
         [&](const auto& file) { return compareMesh(bundle, comparison, file); });
    const std::string id = emit::identifier(bundle.manifest.name);
    for (ReturnedFile& file : report.files) {
        for (Change& change : file.changes) { // the bundle's own names instead of the general ones
            if (const std::size_t at = change.prevention.find("NAME_"); at != std::string::npos) {
                change.prevention.replace(at, 4, id);
            }
        }
    }
    if (report.files.empty() && report.problems.empty()) {
        report.problems.push_back({returned.string(), "holds no file that is named as one of the bundle's",
                                   "keep the files' names when they are written again"});
    }
    return report;
}

} // namespace ripple::bundle
