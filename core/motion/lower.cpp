#include "motion/lower.h"

namespace ripple::motion {

namespace {

using Parts = std::array<NodeId, 3>;

class Lowering {
public:
    Lowering(const Graph& from, Graph& to) : from_(from), to_(to), parts_(from.size()) {
        for (const NoiseTile& tile : from.tiles()) {
            to_.addTile(tile);
        }
        for (const std::vector<float>& curve : from.curves()) {
            to_.addCurve(curve);
        }
        for (const LiveNumber& number : from.parameters()) {
            to_.addParameter(number);
        }
    }

    void take(NodeId id) {
        const Node& node = from_[id];
        const Parts& a = parts_[node.in[0]];
        const Parts& b = parts_[node.in[1]];
        const auto each = [&](auto function) { parts_[id] = {function(0u), function(1u), function(2u)}; };
        const auto times = [&](NodeId x, NodeId y) { return to_.add(Op::multiply, {x, y}); };
        const auto plus = [&](NodeId x, NodeId y) { return to_.add(Op::add, {x, y}); };
        const auto minus = [&](NodeId x, NodeId y) { return to_.add(Op::subtract, {x, y}); };
        switch (node.op) {
        case Op::constant3:
            each([&](std::size_t c) { return to_.constant(node.value[static_cast<int>(c)]); });
            break;
        case Op::constant:
            parts_[id] = {to_.constant(node.value.x)};
            break;
        case Op::add3:
            each([&](std::size_t c) { return plus(a[c], b[c]); });
            break;
        case Op::subtract3:
            each([&](std::size_t c) { return minus(a[c], b[c]); });
            break;
        case Op::negate3:
            each([&](std::size_t c) { return to_.add(Op::negate, {a[c]}); });
            break;
        case Op::scale3:
            each([&](std::size_t c) { return times(a[c], b[0]); });
            break;
        case Op::dot:
            parts_[id] = {plus(plus(times(a[0], b[0]), times(a[1], b[1])), times(a[2], b[2]))};
            break;
        case Op::cross:
            parts_[id] = {minus(times(a[1], b[2]), times(a[2], b[1])),
                          minus(times(a[2], b[0]), times(a[0], b[2])),
                          minus(times(a[0], b[1]), times(a[1], b[0]))};
            break;
        case Op::half3:
            each([&](std::size_t c) { return to_.add(Op::half, {a[c]}); });
            break;
        case Op::compose:
            parts_[id] = {a[0], b[0], parts_[node.in[2]][0]};
            break;
        case Op::x:
        case Op::y:
        case Op::z:
            parts_[id] = {a[static_cast<std::size_t>(node.op) - static_cast<std::size_t>(Op::x)]};
            break;
        case Op::unit3: {
            const NodeId whole = to_.add(Op::unit3, {to_.add(Op::compose, {a[0], a[1], a[2]})});
            split(id, whole);
            break;
        }
        // clang-format off
        case Op::position: case Op::normal: case Op::uv: case Op::uvSlope: case Op::colour:
        case Op::colourSlope: case Op::stored: case Op::storedSlope: case Op::turn: case Op::copyId:
        case Op::copyScale: case Op::copyOrigin: case Op::copyX: case Op::copyY: case Op::copyZ:
        case Op::parameter: case Op::wholeParameter: case Op::numberOf: case Op::timesWhole: case Op::add: case Op::subtract: case Op::multiply: case Op::divide: case Op::least: case Op::most:
        case Op::negate: case Op::absolute: case Op::root: case Op::smooth: case Op::select:
        case Op::half: case Op::timesTurn: case Op::laterTurn: case Op::placeOnCircle: case Op::sine: case Op::cosine:
        case Op::sinc: case Op::fraction: case Op::noise1: case Op::noise2: case Op::noise3:
        case Op::curve: case Op::valueOf: case Op::slopeOf:
            // clang-format on
            keep(id, node);
        }
    }
    const Parts& operator[](NodeId id) const { return parts_[id]; }

private:
    void split(NodeId id, NodeId vector) {
        parts_[id] = {to_.add(Op::x, {vector}), to_.add(Op::y, {vector}), to_.add(Op::z, {vector})};
    }
    /// The same op on the lowered operands, which are no vectors; a vector that it makes is taken apart.
    void keep(NodeId id, const Node& node) {
        std::array<NodeId, 4> in{};
        for (std::size_t k = 0; k < node.operands; ++k) {
            in[k] = parts_[node.in[k]][0];
        }
        const NodeId made = to_.add(node.op, std::span(in).first(node.operands), node.whole);
        if (from_.typeOf(id) == Type::vec3) {
            split(id, made);
        } else {
            parts_[id] = {made};
        }
    }

    const Graph& from_;
    Graph& to_;
    std::vector<Parts> parts_;
};

} // namespace

Lowered lowered(const Graph& graph, std::span<const NodeId> roots) {
    Lowered made;
    Lowering lowering(graph, made.graph);
    const std::vector<char> needed = graph.needed(roots);
    for (NodeId i = 0; i < graph.size(); ++i) {
        if (needed[i]) {
            lowering.take(i);
        }
    }
    for (const NodeId root : roots) {
        made.roots.push_back(lowering[root]);
    }
    return made;
}

} // namespace ripple::motion
