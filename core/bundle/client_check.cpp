// A client's test file against the bundle that it is of.

#include "bundle/test_vector.h"

#include "bake/texture_reader.h"
#include "base/files.h"
#include "bundle/check_score.h"
#include "bundle/read_bundle.h"
#include "bundle/test_moments.h"
#include "mesh/bounds.h"

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

} // namespace

ClientCheck checkClient(const std::filesystem::path& directory, const std::filesystem::path& clientFile) {
    const TestVector client = readTest(clientFile);
    if (holdsScore(directory)) {
        const ScoreManifest manifest = readScoreManifest(directory);
        const TestVector expected = readTest(insideBundle(directory, testFileOf(manifest.name)));
        const TestVector wanted = inMetres(expected, manifest.target.metresPerUnit);
        return compareClient(wanted, inMetres(client, manifest.target.metresPerUnit), sizeOf(wanted.rest), {},
                             0);
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
    return compareClient(inMetres(expected, unit), inMetres(client, unit), sizeOf(bundle.mesh.positions),
                         poseAt, bundle.mesh.vertexCount());
}

} // namespace ripple::bundle
