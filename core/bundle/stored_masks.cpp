#include "bundle/stored_masks.h"

#include "base/problem.h"

#include <algorithm>
#include <cmath>

#include <glm/geometric.hpp>
#include <glm/trigonometric.hpp>

namespace ripple::bundle {

namespace {

using motion::NodeId;
using motion::Op;

/// True for each node that depends on nothing but what vertices have.
std::vector<char> steady(const motion::Graph& graph) {
    std::vector<char> is(graph.size(), 1);
    for (NodeId i = 0; i < graph.size(); ++i) {
        const motion::Node& node = graph[i];
        is[i] = !(node.op >= Op::turn && node.op <= Op::wholeParameter);
        for (std::size_t k = 0; k < node.operands; ++k) {
            is[i] = is[i] && is[node.in[k]];
        }
    }
    return is;
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

double normalLoss(const motion::Performance& a, const motion::Performance& b) {
    constexpr int kTurns = 16;
    const std::size_t vertices = a.vertexCount();
    std::vector<glm::vec3> positions(vertices);
    std::vector<glm::vec3> first(vertices);
    std::vector<glm::vec3> second(vertices);
    double most = 0.0;
    for (int t = 0; t < kTurns; ++t) {
        const double turn = (t + 0.5) / kTurns;
        a.pose(turn, {}, positions, first);
        b.pose(turn, {}, positions, second);
        for (std::size_t v = 0; v < vertices; ++v) {
            // By the sine: of small angles the cosine says nothing in single precision.
            const float across = glm::length(glm::cross(first[v], second[v]));
            const float along = glm::dot(first[v], second[v]);
            most = std::max(most, std::atan2(static_cast<double>(across), static_cast<double>(along)));
        }
    }
    return glm::degrees(most);
}

} // namespace

StoredMasks storeMasks(const motion::Score& score, const mesh::Mesh& mesh, const motion::Performance& plain) {
    const motion::Composition& composition = plain.composition();
    const std::vector<char> isSteady = steady(composition.graph);
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
    made.normalLossDeg = normalLoss(plain, *made.performance);
    return made;
}

} // namespace ripple::bundle
