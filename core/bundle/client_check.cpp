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

/// What a client that plays so shows, metres in the target's axes; none where it can't have its faults.
PoseAt poseAtOf(const std::shared_ptr<const Played>& played, const Target& target) {
    if (!played->idle().empty()) {
        return {};
    }
    return [=, &target](std::size_t clip, double frame, std::span<glm::vec3> positions,
                        std::span<glm::vec3> normals) {
        played->sample(clip, played->secondsAt(clip, frame, frame), positions, normals);
        target.axes.place(positions);
    };
}

/// Against the bundle as it should be played, and as it is with each of the faults that can be rehearsed.
/// `expected`, `client`: in the target's unit; `make(faults)` plays it.
template <typename AnyManifest, typename Make>
ClientCheck checkBy(const AnyManifest& manifest, const TestVector& expected, const TestVector& client,
                    const Make& make) {
    const Target& target = manifest.target;
    std::vector<Suspect> suspects;
    for (const Fault& fault : faults()) {
        suspects.push_back({fault.what, withNames(fault.prevention, emit::identifier(manifest.name)), [&] {
                                const Fault* const chosen = &fault;
                                return poseAtOf(make(std::span(&chosen, 1)), target);
                            }});
    }
    const std::shared_ptr<const Played> right = make(std::span<const Fault* const>());
    const mesh::Mesh& mesh = right->mesh();
    return compareClient(inMetres(expected, target.metresPerUnit), inMetres(client, target.metresPerUnit),
                         sizeOf(mesh.positions), poseAtOf(right, target), mesh.vertexCount(), suspects);
}

} // namespace

ClientCheck checkClient(const std::filesystem::path& directory, const std::filesystem::path& clientFile) {
    const TestVector client = readTest(clientFile);
    if (holdsScore(directory)) {
        const ScoreBundle bundle = readScoreBundle(directory);
        const TestVector expected = readTest(insideBundle(directory, testFileOf(bundle.manifest.name)));
        return checkBy(bundle.manifest, expected, client, [&](std::span<const Fault* const> chosen) {
            return std::make_shared<const PlayedScore>(staged(bundle), chosen);
        });
    }
    const Bundle bundle = readBundle(directory);
    const bake::TextureReader reader = bundle.reader();
    const TestVector expected = testOf(bundle.manifest, reader, bundle.mesh.positions);
    return checkBy(bundle.manifest, expected, client, [&](std::span<const Fault* const> chosen) {
        const Staged staged{bundle.textures, bundle.columnOfVertex, bundle.mesh};
        return std::make_shared<const PlayedBake>(staged, chosen);
    });
}

} // namespace ripple::bundle
