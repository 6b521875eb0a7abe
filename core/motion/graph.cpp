#include "motion/graph.h"

#include "motion/simplify.h"

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
constexpr Type kW = Type::whole;
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
    {"parameter", kN, 0, {}},
    {"wholeParameter", kW, 0, {}},
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
    {"smooth", kN, 1, {kN}},
    {"select", kN, 4, {kN, kN, kN, kN}},
    {"half", kN, 1, {kN}},
    {"numberOf", kN, 1, {kW}},
    {"timesTurn", kT, 1, {kT}},
    {"timesWhole", kT, 2, {kT, kW}},
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
    {"half3", kV, 1, {kV}},
    {"noise1", kS, 1, {kN}},
    {"noise2", kS, 2, {kN, kN}},
    {"noise3", kS, 3, {kN, kN, kN}},
    {"curve", kS, 1, {kN}},
    {"valueOf", kN, 1, {kS}},
    {"slopeOf", kV, 1, {kS}},
}};

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

std::int32_t Graph::addParameter(const LiveNumber& number) {
    parameters_.push_back(number);
    return static_cast<std::int32_t>(parameters_.size()) - 1;
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
    const std::optional<NodeId> simpler = simplified(*this, node);
    return simpler ? *simpler : intern(node);
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

std::vector<char> Graph::freeOf(bool (*these)(Op)) const {
    std::vector<char> free(nodes_.size(), 1);
    for (std::size_t i = 0; i < nodes_.size(); ++i) {
        free[i] = !these(nodes_[i].op);
        for (std::size_t k = 0; k < nodes_[i].operands; ++k) {
            free[i] = free[i] && free[nodes_[i].in[k]];
        }
    }
    return free;
}

} // namespace ripple::motion
