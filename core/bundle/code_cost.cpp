#include "bundle/code_cost.h"

namespace ripple::bundle {

namespace {

/// Normal and velocity; and the base texture's coordinates, where there are any.
int handedOn(const mesh::Mesh& mesh) {
    return 6 + (mesh.uvSets.empty() ? 0 : 2);
}

/// Instructions of the pose alone.
int poseCost(const motion::Score& score, const motion::Model& model) {
    return emit::scoreCode(emit::glsl(), "s", motion::composeScore(score, model)).cost.arithmetic;
}

} // namespace

CodeCost costOfBake(const Manifest& manifest, const mesh::Mesh& mesh) {
    CodeCost cost;
    const emit::ReaderCost reader = emit::readerCost(manifest.textures, manifest.bounds);
    cost.pose = reader.pose;
    cost.velocity = reader.velocity;
    cost.handed = handedOn(mesh);
    return cost;
}

CodeCost costOfScore(const ScoreOnMesh& on, const ScoreChoices& choices, const mesh::Mesh& mesh,
                     const base::Progress& progress) {
    CodeCost cost;
    const emit::ScoreCode code = codeOf(on, emit::glsl(), "s", choices);
    cost.pose = code.cost;
    cost.velocity = code.velocityCost;
    cost.uvShift = code.uvShift;
    cost.alpha = code.alpha;
    cost.handed = handedOn(mesh) + (code.alpha ? code.alpha->handedBefore : 0);
    const motion::Model& model = on.performance->model();
    const int whole = poseCost(on.score, model);
    for (std::size_t i = 0; i < on.score.voices.size(); ++i) {
        if (motion::isHeard(on.score, on.score.voices[i])) {
            motion::Score without = on.score;
            without.voices[i].muted = true;
            without.voices[i].solo = false;
            cost.voices.emplace_back(on.score.voices[i].name, whole - poseCost(without, model));
        }
    }
    cost.lost = motion::interpolationLoss(*on.performance, mesh, progress);
    cost.coverage = motion::coveredPixels(mesh, 1.0);
    cost.half = on.halfLoss ? *on.halfLoss : motion::halfLoss(*on.performance, progress);
    cost.time = motion::timeLosses(on.score.loopSeconds, motion::fastest(*on.performance, progress));
    return cost;
}

} // namespace ripple::bundle
