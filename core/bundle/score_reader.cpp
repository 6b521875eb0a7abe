#include "bundle/score_reader.h"

#include "base/problem.h"
#include "base/units.h"
#include "bundle/check_score.h"
#include "bundle/read_bundle.h"
#include "motion/half_precision.h"
#include "source/open.h"

#include <vector>

namespace ripple::bundle {

ScoreBundle readScoreBundle(const std::filesystem::path& directory) {
    ScoreBundle bundle;
    bundle.manifest = readScoreManifest(directory);
    const ScoreManifest& manifest = bundle.manifest;
    bundle.mesh = source::open(insideBundle(directory, manifest.meshFile))->mesh();
    if (bundle.mesh.vertexCount() != manifest.vertices) {
        base::fail(manifest.meshFile,
                   "has " + base::plural(bundle.mesh.vertexCount(), "vertex") + ", the manifest says " +
                       base::countText(manifest.vertices),
                   "the mesh was changed; write the bundle again");
    }
    bundle.composition = motion::composeScore(*manifest.origin.score, manifest.model);
    if (manifest.halfLossMetres) {
        bundle.composition = motion::inHalfPrecision(bundle.composition);
    }
    return bundle;
}

ScoreReader::ScoreReader(const mesh::Mesh& mesh, const std::vector<PlacedInput>& inputs,
                         const motion::Composition& composition)
    : inputs_(mesh, inputs, composition),
      roots_{composition.position, composition.normal},
      evaluator_(composition.graph, roots_) {}

void ScoreReader::pose(double turn, const motion::Copy& copy, std::span<glm::vec3> positions,
                       std::span<glm::vec3> normals) const {
    std::vector<glm::vec3> unwanted(normals.empty() ? positions.size() : 0);
    const motion::Evaluator::Target targets[] = {{{}, positions},
                                                 {{}, normals.empty() ? std::span(unwanted) : normals}};
    evaluator_.run(inputs_.fields(), copy, static_cast<float>(turn), targets);
}

} // namespace ripple::bundle
