#include "motion/half_precision.h"

#include "bake/compare_poses.h"

#include <algorithm>
#include <cmath>

namespace ripple::motion {

namespace {

/// Numbers and vectors that are worked out, not given; but for quotients, roots and bounds that keep a
/// divisor away from 0, which may be larger or smaller than 16 bits hold.
bool mayBeRounded(const Graph& graph, NodeId id) {
    const Type type = graph.typeOf(id);
    const Node& node = graph[id];
    if ((type != Type::number && type != Type::vec3) || node.operands == 0 || node.op == Op::divide ||
        node.op == Op::root) {
        return false;
    }
    const auto tiny = [&](NodeId operand) {
        const Node& of = graph[operand];
        return of.op == Op::constant && of.value.x != 0.0f && std::abs(of.value.x) < 1e-4f;
    };
    return (node.op != Op::most && node.op != Op::least) || (!tiny(node.in[0]) && !tiny(node.in[1]));
}

} // namespace

Composition inHalfPrecision(const Composition& composition) {
    const Graph& from = composition.graph;
    const NodeId position[] = {composition.position};
    const NodeId normal[] = {composition.normal};
    const std::vector<char> moves = from.needed(position);
    std::vector<char> low = from.needed(normal);
    for (NodeId i = 0; i < from.size(); ++i) {
        low[i] = low[i] && !moves[i] && mayBeRounded(from, i);
    }
    for (const VoiceNodes& voice : composition.voices) {
        for (const NodeId id : {voice.mask, voice.shape}) {
            low[id] = mayBeRounded(from, id);
        }
    }
    Composition made = composition;
    made.halves = true;
    made.graph = Graph();
    made.ranges.clear();
    made.chapters.clear();
    Graph& to = made.graph;
    for (const NoiseTile& tile : from.tiles()) {
        to.addTile(tile);
    }
    for (const std::vector<float>& curve : from.curves()) {
        to.addCurve(curve);
    }
    for (const LiveNumber& number : from.parameters()) {
        to.addParameter(number);
    }
    std::vector<NodeId> at(from.size(), 0);
    std::size_t chapter = 0;
    for (NodeId i = 0; i < from.size(); ++i) {
        for (; chapter < composition.chapters.size() && composition.chapters[chapter].from <= i; ++chapter) {
            made.chapters.push_back({static_cast<NodeId>(to.size()), composition.chapters[chapter].title});
        }
        const Node& node = from[i];
        if (node.op == Op::constant) {
            at[i] = to.constant(node.value.x);
        } else if (node.op == Op::constant3) {
            at[i] = to.constant(node.value);
        } else {
            std::array<NodeId, 4> in{};
            for (std::size_t k = 0; k < node.operands; ++k) {
                in[k] = at[node.in[k]];
            }
            at[i] = to.add(node.op, std::span(in).first(node.operands), node.whole);
        }
        if (low[i] && !to.isConstant(at[i])) {
            at[i] = to.add(from.typeOf(i) == Type::vec3 ? Op::half3 : Op::half, {at[i]});
        }
    }
    const auto moved = [&](NodeId& id) { id = at[id]; };
    moved(made.position);
    moved(made.normal);
    for (auto* more : {&made.uvShift, &made.alpha}) {
        if (*more) {
            moved(**more);
        }
    }
    for (const KnownRange& range : composition.ranges) {
        // What is rounded may lie beside its range by as much as that takes.
        const float slack = 1e-3f * std::max(std::abs(range.low), std::abs(range.high));
        made.ranges.push_back({at[range.node], range.low - slack, range.high + slack});
    }
    for (VoiceNodes& voice : made.voices) {
        for (NodeId* id : {&voice.mask, &voice.place, &voice.shape, &voice.push, &voice.along}) {
            moved(*id);
        }
        std::for_each(voice.across.begin(), voice.across.end(), moved);
    }
    return made;
}

std::shared_ptr<const Performance> inHalfPrecision(const Performance& performance) {
    return std::make_shared<const Performance>(performance, inHalfPrecision(performance.composition()));
}

bake::ErrorReport comparePerformances(const Performance& truth, const Performance& other, int instants,
                                      const base::Progress& progress) {
    bool stray = false;
    const auto poseOf = [&](const Performance& performance) {
        return [&](std::size_t i, std::span<glm::vec3> positions, std::span<glm::vec3> normals) {
            const double turn = (static_cast<double>(i) + 0.5) / instants;
            performance.pose(turn, {}, positions, normals);
            stray = stray || findStray(turn, positions, normals).has_value();
        };
    };
    bake::ErrorReport report = bake::comparePoses(truth.vertexCount(), static_cast<std::size_t>(instants),
                                                  poseOf(truth), poseOf(other), progress);
    if (stray) {
        report.all.max = report.normalMaxDegrees = INFINITY;
    }
    return report;
}

bake::ErrorReport halfLoss(const Performance& performance, const base::Progress& progress) {
    constexpr int kInstants = 24;
    return comparePerformances(performance, *inHalfPrecision(performance), kInstants, progress);
}

} // namespace ripple::motion
