#include "bundle/rehearsal.h"

#include "bake/compare_poses.h"
#include "base/files.h"
#include "base/progress.h"
#include "bundle/imported_mesh.h"
#include "image/exr.h"
#include "image/png.h"
#include "mesh/bounds.h"
#include "source/gltf_write.h"

#include <algorithm>

#include <glm/geometric.hpp>

namespace ripple::bundle {

namespace {

/// An instant of a clip.
struct Moment {
    std::size_t clip = 0;
    double seconds = 0.0;
    double frame = 0.0; ///< as it is reported
};

Rehearsed compare(const Played& right, const Played& wrong, std::span<const Moment> moments,
                  const base::Progress& progress) {
    Rehearsed result;
    result.idle = wrong.idle();
    mesh::Bounds rest;
    rest.add(right.mesh().positions);
    const auto play = [&](const Played& played, std::size_t i, std::span<glm::vec3> p,
                          std::span<glm::vec3> n) {
        played.sample(moments[i].clip, moments[i].seconds, p, n);
    };
    const auto truth = [&](std::size_t i, std::span<glm::vec3> p, std::span<glm::vec3> n) {
        play(right, i, p, n);
        for (std::size_t v = 0; v < p.size() && wrong.has(Misreading::restBounds); ++v) {
            const glm::vec3 outside = glm::max(glm::max(rest.min - p[v], p[v] - rest.max), 0.0f);
            result.overhang = std::max(result.overhang, static_cast<double>(glm::length(outside)));
        }
    };
    const auto read = [&](std::size_t i, std::span<glm::vec3> p, std::span<glm::vec3> n) {
        play(wrong, i, p, n);
    };
    const bake::ErrorReport report =
        bake::comparePoses(right.mesh().vertexCount(), moments.size(), truth, read, progress);
    result.metres = report.all.max;
    result.degrees = report.normalMaxDegrees;
    if (report.all.max > 0.0) {
        const Moment& worst = moments[static_cast<std::size_t>(report.worstFrame)];
        result.worstClip = right.clips()[worst.clip].name;
        result.worstFrame = worst.frame;
    }
    return result;
}

} // namespace

Rehearsed rehearse(const Staged& staged, std::span<const Fault* const> chosen,
                   const base::Progress& progress) {
    const PlayedBake right(staged, {});
    const PlayedBake wrong(staged, chosen);
    std::vector<Moment> moments;
    for (const Instant& instant : someInstants(staged.textures.clips)) {
        const auto frame = static_cast<double>(instant.frame);
        moments.push_back({instant.clip, frame / right.rate(instant.clip), frame});
    }
    return compare(right, wrong, moments, progress);
}

Rehearsed comparePlayed(const PlayedScore& right, const PlayedScore& wrong, const base::Progress& progress) {
    constexpr std::size_t kInstants = 25; // no divisor of what waves and steps there are
    const double loop = right.clips()[0].duration;
    std::vector<Moment> moments;
    for (std::size_t i = 0; i < kInstants; ++i) {
        const double turn = static_cast<double>(i) / kInstants;
        moments.push_back({0, turn * loop, turn});
    }
    return compare(right, wrong, moments, progress);
}

Rehearsed rehearse(const StagedScore& staged, std::span<const Fault* const> chosen,
                   const base::Progress& progress) {
    return comparePlayed(PlayedScore(staged, {}), PlayedScore(staged, chosen), progress);
}

Rehearsed rehearse(const Bundle& bundle, std::span<const Fault* const> chosen,
                   const base::Progress& progress) {
    return rehearse(Staged{bundle.textures, bundle.columnOfVertex, bundle.mesh}, chosen, progress);
}

namespace {

void makeFolder(const std::filesystem::path& folder, const std::filesystem::path& own) {
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    if (std::filesystem::equivalent(folder, own, error)) {
        base::fail(folder.string(), "is the bundle's own folder", "name another; the bundle stays as it is");
    }
}

/// The bundle's mesh, if one of the faults changes it; how many files.
std::size_t writeSpoiltMesh(const mesh::Mesh& mesh, std::size_t uvSet, std::span<const Fault* const> chosen,
                            const ManifestHead& head, const std::filesystem::path& folder) {
    if (std::ranges::none_of(chosen, [](const Fault* fault) { return changesMesh(*fault); })) {
        return 0;
    }
    const mesh::Mesh spoilt = rebuiltMesh(mesh, uvSet, chosen);
    base::writeFile(folder / head.meshFile,
                    source::glbBytes(source::gltfModel(spoilt, head.name, {}), head.meshFile));
    return 1;
}

} // namespace

std::size_t writeSpoilt(const Bundle& bundle, const std::filesystem::path& own,
                        std::span<const Fault* const> chosen, const std::filesystem::path& folder) {
    makeFolder(folder, own);
    std::vector<const Fault*> ofMesh; // those of bytes are of the textures here
    for (const Fault* fault : chosen) {
        if (!fault->bytes) {
            ofMesh.push_back(fault);
        }
    }
    std::size_t written =
        writeSpoiltMesh(bundle.mesh, bundle.manifest.lookupUvSet, ofMesh, bundle.manifest, folder);
    for (std::size_t t = 0; t < bundle.textures.images.size(); ++t) {
        image::Image image = bundle.textures.images[t];
        for (const Fault* fault : chosen) {
            if (fault->bytes) {
                image = damagedBy(*fault->bytes, image, rowsPerFrame(bundle.textures, t));
            }
        }
        if (image == bundle.textures.images[t]) {
            continue;
        }
        const std::filesystem::path file = folder / bundle.manifest.textureFiles[t];
        base::extensionOf(file) == ".exr" ? image::writeExr(image, file) : image::writePng(image, file);
        ++written;
    }
    return written;
}

std::size_t writeSpoilt(const ScoreBundle& bundle, const std::filesystem::path& own,
                        std::span<const Fault* const> chosen, const std::filesystem::path& folder) {
    makeFolder(folder, own);
    // Where UV sets change places, it is the last one that does: further inputs lie behind the mesh's own.
    return writeSpoiltMesh(bundle.mesh, bundle.mesh.uvSets.size() - 1, chosen, bundle.manifest, folder);
}

} // namespace ripple::bundle
