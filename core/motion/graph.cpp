#include "motion/graph.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <stdexcept>
#include <string>

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

constexpr Type kN = Type::number;
constexpr Type kT = Type::turn;
constexpr Type kV = Type::vec3;
constexpr Type kS = Type::slope;

// In the order of Op.
constexpr std::array<OpRow, kOps> kRows = {{
    {"position", kV, 0, {}},
    {"normal", kV, 0, {}},
    {"uv", kN, 0, {}},
    {"uvSlope", kV, 0, {}},
    {"colour", kN, 0, {}},
    {"colourSlope", kV, 0, {}},
    {"stored", kN, 0, {}},
    {"storedSlope", kV, 0, {}},
    {"turn", kT, 0, {}},
    {"copyId", kN, 0, {}},
    {"copyScale", kN, 0, {}},
    {"copyOrigin", kV, 0, {}},
    {"copyX", kV, 0, {}},
    {"copyY", kV, 0, {}},
    {"copyZ", kV, 0, {}},
    {"constant", kN, 0, {}},
    {"constant3", kV, 0, {}},
    {"add", kN, 2, {kN, kN}},
    {"subtract", kN, 2, {kN, kN}},
    {"multiply", kN, 2, {kN, kN}},
    {"divide", kN, 2, {kN, kN}},
    {"least", kN, 2, {kN, kN}},
    {"most", kN, 2, {kN, kN}},
    {"negate", kN, 1, {kN}},
    {"absolute", kN, 1, {kN}},
    {"root", kN, 1, {kN}},
    {"select", kN, 4, {kN, kN, kN, kN}},
    {"timesTurn", kT, 1, {kT}},
    {"laterTurn", kT, 2, {kT, kN}},
    {"placeOnCircle", kT, 1, {kN}},
    {"sine", kN, 1, {kT}},
    {"cosine", kN, 1, {kT}},
    {"sinc", kN, 1, {kN}},
    {"fraction", kN, 1, {kT}},
    {"add3", kV, 2, {kV, kV}},
    {"subtract3", kV, 2, {kV, kV}},
    {"negate3", kV, 1, {kV}},
    {"scale3", kV, 2, {kV, kN}},
    {"dot", kN, 2, {kV, kV}},
    {"cross", kV, 2, {kV, kV}},
    {"compose", kV, 3, {kN, kN, kN}},
    {"x", kN, 1, {kV}},
    {"y", kN, 1, {kV}},
    {"z", kN, 1, {kV}},
    {"unit3", kV, 1, {kV}},
    {"noise1", kS, 1, {kN}},
    {"noise2", kS, 2, {kN, kN}},
    {"noise3", kS, 3, {kN, kN, kN}},
    {"curve", kS, 1, {kN}},
    {"valueOf", kN, 1, {kS}},
    {"slopeOf", kV, 1, {kS}},
}};

bool isLeaf(Op op) {
    return op <= Op::constant3;
}

bool isPerVertex(Op op) {
    return op <= Op::storedSlope;
}

std::uint64_t hashOf(const Node& node) {
    std::uint64_t h = static_cast<std::uint64_t>(node.op) * 0x9E3779B97F4A7C15ull;
    const auto mix = [&h](std::uint64_t value) {
        h = (h ^ value) * 0xD6E8FEB86659FD93ull;
        h ^= h >> 32;
    };
    mix(static_cast<std::uint32_t>(node.whole));
    for (std::size_t i = 0; i < node.operands; ++i) {
        mix(node.in[i]);
    }
    for (int c = 0; c < 3; ++c) {
        mix(std::bit_cast<std::uint32_t>(node.value[c]));
    }
    return h;
}

} // namespace

const OpRow& opRow(Op op) {
    return kRows[static_cast<std::size_t>(op)];
}

bool Graph::is(NodeId id, float value) const {
    return nodes_[id].op == Op::constant && nodes_[id].value.x == value;
}

bool Graph::isZero3(NodeId id) const {
    return nodes_[id].op == Op::constant3 && nodes_[id].value == glm::vec3(0.0f);
}

NodeId Graph::intern(const Node& node) {
    const std::uint64_t hash = hashOf(node);
    const auto [begin, end] = known_.equal_range(hash);
    for (auto at = begin; at != end; ++at) {
        if (nodes_[at->second] == node) {
            return at->second;
        }
    }
    const auto id = static_cast<NodeId>(nodes_.size());
    nodes_.push_back(node);
    known_.emplace(hash, id);
    return id;
}

NodeId Graph::constant(float value) {
    Node node;
    node.op = Op::constant;
    node.value.x = value == 0.0f ? 0.0f : value; // one zero only
    return intern(node);
}

NodeId Graph::constant(const glm::vec3& value) {
    Node node;
    node.op = Op::constant3;
    node.value = value + glm::vec3(0.0f);
    return intern(node);
}

std::int32_t Graph::addTile(const NoiseTile& tile) {
    const auto found = std::find(tiles_.begin(), tiles_.end(), tile);
    const auto index = static_cast<std::int32_t>(found - tiles_.begin());
    if (found == tiles_.end()) {
        tiles_.push_back(tile);
    }
    return index;
}

std::int32_t Graph::addCurve(std::span<const float> values) {
    const std::vector<float> curve(values.begin(), values.end());
    const auto found = std::find(curves_.begin(), curves_.end(), curve);
    const auto index = static_cast<std::int32_t>(found - curves_.begin());
    if (found == curves_.end()) {
        curves_.push_back(curve);
    }
    return index;
}

NodeId Graph::add(Op op, std::span<const NodeId> in, std::int32_t whole) {
    const OpRow& row = opRow(op);
    bool fits = in.size() == row.operands;
    for (std::size_t i = 0; fits && i < in.size(); ++i) {
        fits = in[i] < nodes_.size() && typeOf(in[i]) == row.takes[i];
    }
    if (!fits) {
        throw std::logic_error(std::string("operands do not fit ") + row.name);
    }
    Node node;
    node.op = op;
    node.operands = row.operands;
    node.whole = whole;
    std::copy(in.begin(), in.end(), node.in.begin());
    NodeId simpler = 0;
    return simplify(node, simpler) ? simpler : intern(node);
}

namespace {

/// The number that an operation makes of numbers.
float folded(Op op, float a, float b) {
    switch (op) {
    case Op::add:
        return a + b;
    case Op::subtract:
        return a - b;
    case Op::multiply:
        return a * b;
    case Op::divide:
        return a / b;
    case Op::least:
        return a < b ? a : b;
    case Op::most:
        return a > b ? a : b;
    case Op::negate:
        return -a;
    case Op::absolute:
        return std::abs(a);
    default:
        return std::sqrt(a);
    }
}

} // namespace

bool Graph::simplify(const Node& node, NodeId& result) {
    const auto constantAt = [&](std::size_t i) { return isConstant(node.in[i]); };
    const auto value = [&](std::size_t i) { return nodes_[node.in[i]].value; };
    const auto becomes = [&](NodeId id) {
        result = id;
        return true;
    };
    const NodeId a = node.in[0];
    const NodeId b = node.in[1];
    if (node.op >= Op::add && node.op <= Op::root && constantAt(0) && (node.operands == 1 || constantAt(1))) {
        return becomes(constant(folded(node.op, value(0).x, node.operands == 2 ? value(1).x : 0.0f)));
    }
    switch (node.op) {
    case Op::add:
        if (is(a, 0.0f)) {
            return becomes(b);
        }
        return is(b, 0.0f) && becomes(a);
    case Op::subtract:
        if (is(a, 0.0f)) {
            return becomes(add(Op::negate, {b}));
        }
        return is(b, 0.0f) && becomes(a);
    case Op::multiply:
        if (is(a, 0.0f) || is(b, 0.0f)) {
            return becomes(constant(0.0f));
        }
        if (is(a, 1.0f)) {
            return becomes(b);
        }
        if (is(a, -1.0f) || is(b, -1.0f)) {
            return becomes(add(Op::negate, {is(a, -1.0f) ? b : a}));
        }
        // Constants gather at one place: 2 · (3 · x) is 6 · x.
        if (constantAt(0) && nodes_[b].op == Op::multiply && isConstant(nodes_[b].in[0])) {
            const NodeId both = constant(value(0).x * nodes_[nodes_[b].in[0]].value.x);
            return becomes(add(Op::multiply, {both, nodes_[b].in[1]}));
        }
        if (constantAt(1)) {
            return becomes(add(Op::multiply, {b, a})); // constants first
        }
        return false;
    case Op::divide:
        return constantAt(1) && becomes(add(Op::multiply, {constant(1.0f / value(1).x), a}));
    case Op::negate:
        return nodes_[a].op == Op::negate && becomes(nodes_[a].in[0]);
    case Op::select:
        if (constantAt(0) && constantAt(1)) {
            return becomes(value(0).x < value(1).x ? node.in[2] : node.in[3]);
        }
        return node.in[2] == node.in[3] && becomes(node.in[2]);
    case Op::timesTurn:
        return node.whole == 1 && becomes(a);
    case Op::laterTurn:
        return is(b, 0.0f) && becomes(a);
    case Op::add3:
        if (constantAt(0) && constantAt(1)) {
            return becomes(constant(value(0) + value(1)));
        }
        if (isZero3(a)) {
            return becomes(b);
        }
        return isZero3(b) && becomes(a);
    case Op::subtract3:
        if (constantAt(0) && constantAt(1)) {
            return becomes(constant(value(0) - value(1)));
        }
        if (isZero3(a)) {
            return becomes(add(Op::negate3, {b}));
        }
        return isZero3(b) && becomes(a);
    case Op::negate3:
        return constantAt(0) && becomes(constant(-value(0)));
    case Op::scale3:
        if (constantAt(0) && constantAt(1)) {
            return becomes(constant(value(0) * value(1).x));
        }
        if (isZero3(a) || is(b, 0.0f)) {
            return becomes(constant(glm::vec3(0.0f)));
        }
        if (constantAt(0) && nodes_[b].op == Op::multiply && isConstant(nodes_[b].in[0])) {
            const NodeId scaled = constant(value(0) * nodes_[nodes_[b].in[0]].value.x);
            return becomes(add(Op::scale3, {scaled, nodes_[b].in[1]}));
        }
        if (nodes_[a].op == Op::scale3 && isConstant(nodes_[a].in[0])) {
            const NodeId factor = add(Op::multiply, {nodes_[a].in[1], b});
            return becomes(add(Op::scale3, {nodes_[a].in[0], factor}));
        }
        return is(b, 1.0f) && becomes(a);
    case Op::dot:
        if (constantAt(0) && constantAt(1)) {
            return becomes(constant(glm::dot(value(0), value(1))));
        }
        if (constantAt(0)) {
            return becomes(add(Op::dot, {b, a})); // constants last
        }
        if (constantAt(1)) {
            const glm::vec3 axis = value(1);
            if (isZero3(b)) {
                return becomes(constant(0.0f));
            }
            if (nodes_[a].op == Op::scale3 && isConstant(nodes_[a].in[0])) {
                const NodeId factor = constant(glm::dot(nodes_[nodes_[a].in[0]].value, axis));
                return becomes(add(Op::multiply, {factor, nodes_[a].in[1]}));
            }
            for (int c = 0; c < 3; ++c) {
                glm::vec3 only(0.0f);
                only[c] = axis[c];
                if (axis == only) {
                    const Op component = c == 0 ? Op::x : c == 1 ? Op::y : Op::z;
                    return becomes(add(Op::multiply, {constant(axis[c]), add(component, {a})}));
                }
            }
        }
        return (isZero3(a) || isZero3(b)) && becomes(constant(0.0f));
    case Op::cross:
        if (constantAt(0) && constantAt(1)) {
            return becomes(constant(glm::cross(value(0), value(1))));
        }
        return (isZero3(a) || isZero3(b)) && becomes(constant(glm::vec3(0.0f)));
    case Op::compose:
        return constantAt(0) && constantAt(1) && constantAt(2) &&
               becomes(constant(glm::vec3(value(0).x, value(1).x, value(2).x)));
    case Op::x:
    case Op::y:
    case Op::z: {
        const int c = static_cast<int>(node.op) - static_cast<int>(Op::x);
        if (constantAt(0)) {
            return becomes(constant(value(0)[c]));
        }
        if (nodes_[a].op == Op::compose) {
            return becomes(nodes_[a].in[static_cast<std::size_t>(c)]);
        }
        if (nodes_[a].op == Op::scale3 && isConstant(nodes_[a].in[0])) {
            const NodeId factor = constant(nodes_[nodes_[a].in[0]].value[c]);
            return becomes(add(Op::multiply, {factor, nodes_[a].in[1]}));
        }
        return false;
    }
    default:
        return false;
    }
}

std::vector<char> Graph::needed(std::span<const NodeId> roots) const {
    std::vector<char> wanted(nodes_.size(), 0);
    for (const NodeId root : roots) {
        wanted[root] = 1;
    }
    for (std::size_t i = nodes_.size(); i-- > 0;) {
        for (std::size_t k = 0; wanted[i] && k < nodes_[i].operands; ++k) {
            wanted[nodes_[i].in[k]] = 1;
        }
    }
    return wanted;
}

std::vector<char> Graph::uniform() const {
    std::vector<char> same(nodes_.size(), 1);
    for (std::size_t i = 0; i < nodes_.size(); ++i) {
        same[i] = !isPerVertex(nodes_[i].op);
        for (std::size_t k = 0; !isLeaf(nodes_[i].op) && k < nodes_[i].operands; ++k) {
            same[i] = same[i] && same[nodes_[i].in[k]];
        }
    }
    return same;
}

} // namespace ripple::motion
