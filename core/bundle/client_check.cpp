// A client's test file against the bundle that it is of.

#include "bundle/test_vector.h"

#include "bake/texture_reader.h"
#include "base/files.h"
#include "bundle/check_score.h"
#include "bundle/fault.h"
#include "bundle/played_bake.h"
#include "bundle/played_score.h"
#include "bundle/read_bundle.h"
#include "bundle/test_moments.h"
#include "emit/identifier.h"
#include "mesh/bounds.h"

#include <algorithm>
#include <limits>
#include <memory>

#include <glm/geometric.hpp>

namespace ripple::bundle {

namespace {

TestVector readTest(const std::filesystem::path& file) {
    const base::Bytes bytes = base::readFile(file);
    return parseTest(std::string(base::asText(bytes)), file.filename().string());
}

double sizeOf(std::span<const glm::vec3> rest) {
    mesh::Bounds bounds;
    bounds.add(rest);
    return static_cast<double>(bounds.diagonal());
}

/// A client that has one of the faults that can be rehearsed: `make(fault)` plays it.
template <typename Make>
std::vector<Suspect> suspectsOf(const std::string& name, const Target& target, std::size_t vertices,
                                const Make& make) {
    std::vector<Suspect> suspects;
    for (const Fault& fault : faults()) {
        suspects.push_back(
            {fault.what, withNames(fault.prevention, emit::identifier(name)), [=, &target, &fault] {
                 const std::shared_ptr<const Played> played = make(fault);
                 return [=, &target](std::size_t clip, double frame, std::span<glm::vec3> positions,
                                     std::span<glm::vec3> normals) {
                     if (!played->idle().empty() || played->mesh().vertexCount() != vertices) {
                         std::ranges::fill(positions, glm::vec3(std::numeric_limits<float>::infinity()));
                         return; // a fault that it can't have is not what happened
                     }
                     played->sample(clip, played->secondsAt(clip, frame, frame), positions, normals);
                     target.axes.place(positions);
                 };
             }});
    }
    return suspects;
}

} // namespace

ClientCheck checkClient(const std::filesystem::path& directory, const std::filesystem::path& clientFile) {
    const TestVector client = readTest(clientFile);
    if (holdsScore(directory)) {
        const ScoreBundle bundle = readScoreBundle(directory);
        const ScoreManifest& manifest = bundle.manifest;
        const TestVector expected = readTest(insideBundle(directory, testFileOf(manifest.name)));
        const TestVector wanted = inMetres(expected, manifest.target.metresPerUnit);
        const std::size_t vertices = bundle.mesh.vertexCount();
        const auto suspects = suspectsOf(manifest.name, manifest.target, vertices, [&](const Fault& fault) {
            const Fault* const chosen = &fault;
            return std::make_shared<const PlayedScore>(staged(bundle), std::span(&chosen, 1));
        });
        return compareClient(wanted, inMetres(client, manifest.target.metresPerUnit), sizeOf(wanted.rest), {},
                             vertices, suspects);
    }
    const Bundle bundle = readBundle(directory);
    const bake::TextureReader reader = bundle.reader();
    const TestVector expected = testOf(bundle.manifest, reader, bundle.mesh.positions);
    const double unit = bundle.manifest.target.metresPerUnit;
    const PoseAt poseAt = [&, there = poseAtOf(bundle.manifest, reader)](std::size_t clip, double frame,
                                                                         std::span<glm::vec3> positions,
                                                                         std::span<glm::vec3> normals) {
        there(clip, frame, positions, normals);
        for (glm::vec3& p : positions) {
            p *= static_cast<float>(unit);
        }
    };
    const std::size_t vertices = bundle.mesh.vertexCount();
    const auto suspects =
        suspectsOf(bundle.manifest.name, bundle.manifest.target, vertices, [&](const Fault& fault) {
            const Fault* const chosen = &fault;
            const Staged staged{bundle.textures, bundle.columnOfVertex, bundle.mesh};
            return std::make_shared<const PlayedBake>(staged, std::span(&chosen, 1));
        });
    return compareClient(inMetres(expected, unit), inMetres(client, unit), sizeOf(bundle.mesh.positions),
                         poseAt, vertices, suspects);
}

} // namespace ripple::bundle
