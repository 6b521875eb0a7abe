#include "bundle/stored_masks.h"

#include "base/problem.h"
#include "motion/half_precision.h"

#include <algorithm>

namespace ripple::bundle {

namespace {

using motion::NodeId;
using motion::Op;

/// What differs between instants, copies or parameters.
bool isLive(Op op) {
    return op >= Op::turn && op <= Op::wholeParameter;
}

bool fits(const mesh::Mesh& mesh, const motion::Performance& performance) {
    const emit::ScoreCode code = emit::scoreCode(emit::glsl(), "score", performance.composition());
    try {
        placeInputs(mesh, code.inputs, performance.fields());
        return true;
    } catch (const base::Failure&) {
        return false;
    }
}

} // namespace

StoredMasks storeMasks(const motion::Score& score, const mesh::Mesh& mesh, const motion::Performance& plain) {
    const motion::Composition& composition = plain.composition();
    const std::vector<char> isSteady = composition.graph.freeOf(isLive);
    StoredMasks made;
    made.mesh = mesh;
    motion::Model model = plain.model();
    model.storedVoices.resize(score.voices.size());
    const auto store = [&](const std::string& name, NodeId node) -> std::optional<std::size_t> {
        if (!isSteady[node] || composition.graph.isConstant(node)) {
            return std::nullopt;
        }
        made.mesh.stored.push_back({name, plain.values(node, 0.0, {})});
        model.stored.push_back(name);
        return model.stored.size() - 1;
    };
    for (std::size_t i = 0; i < score.voices.size(); ++i) {
        const motion::Voice& voice = score.voices[i];
        if (!motion::isHeard(score, voice)) {
            continue;
        }
        const motion::VoiceNodes& nodes = composition.voices[i];
        motion::StoredVoice& kept = model.storedVoices[i];
        kept.mask = store(voice.name + " mask", nodes.mask);
        kept.along = store(voice.name + " course", nodes.along);
        for (std::size_t k = 0; k < nodes.across.size() && voice.shape.kind == motion::ShapeKind::noise;
             ++k) {
            kept.across[k] = store(voice.name + " beside " + std::to_string(k + 1), nodes.across[k]);
        }
    }
    const std::size_t own = mesh.stored.size();
    model.storedFlat = plain.model().storedFlat;
    model.storedFlat.resize(model.stored.size(), 0);
    made.performance = std::make_shared<const motion::Performance>(score, made.mesh, model);
    if (!fits(made.mesh, *made.performance)) {
        std::fill(model.storedFlat.begin() + static_cast<std::ptrdiff_t>(own), model.storedFlat.end(), 1);
        made.performance = std::make_shared<const motion::Performance>(score, made.mesh, model);
    }
    constexpr int kInstants = 16;
    made.normalLossDeg = motion::comparePerformances(plain, *made.performance, kInstants).normalMaxDegrees;
    return made;
}

} // namespace ripple::bundle
