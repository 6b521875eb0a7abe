#pragma once

#include "motion/noise.h"

#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <unordered_map>
#include <vector>

#include <glm/vec3.hpp>

namespace ripple::motion {

/// What a value is. A turn is a place on the circle of the loop: the only operations on it are those after
/// which it still closes (laws of the loop, docs/motion.md §1), and functions of period 1 that make a number
/// of it.
enum class Type : std::uint8_t {
    number,
    turn,
    whole, ///< a whole number that is not known while the code is written: turns may be multiplied with it
    vec3,
    slope, ///< a value and its three partial derivatives, as noise gives them
};

/// One operation. Operands and result have the types in opRow().
enum class Op : std::uint8_t {
    // What is given for each vertex. `whole` tells which.
    position,    ///< vec3: rest pose, object space, metres
    normal,      ///< vec3: rest pose, unit length
    uv,          ///< number: whole = 2 · set + (0 for U, 1 for V)
    uvSlope,     ///< vec3: how it changes along the surface, per metre
    colour,      ///< number: whole = channel 0..3
    colourSlope, ///< vec3
    stored,      ///< number: whole = index among the mesh's stored values
    storedSlope, ///< vec3
    // What is the same for all vertices of a copy.
    turn,       ///< turn: φ
    copyId,     ///< number: 0..1
    copyScale,  ///< number: object to world, above 0
    copyOrigin, ///< vec3: world, metres
    copyX,      ///< vec3: the object's X axis in the world, unit length
    copyY,
    copyZ,
    parameter,      ///< number: whole = index of the parameter, which is within its range
    wholeParameter, ///< whole
    constant,       ///< number
    constant3,      ///< vec3
    // number × number → number
    add,
    subtract,
    multiply,
    divide, ///< the divisor is never 0: masks and courses see to that
    least,
    most,
    // number → number
    negate,
    absolute,
    root,   ///< square root of 0 or more
    smooth, ///< 3t² − 2t³, t held between 0 and 1
    select, ///< a < b ? c : d
    half,   ///< number → number: rounded to the eleven digits of a 16-bit float
    // turns
    numberOf,      ///< whole → number
    timesTurn,     ///< turn × `whole` → turn
    timesWhole,    ///< turn, whole → turn
    laterTurn,     ///< turn, number → turn: moved by any offset
    placeOnCircle, ///< number → turn
    sine,          ///< turn → number: sin 2πx
    cosine,
    sinc,     ///< number of turns → number: sin 2πx / 2πx, 1 at 0
    fraction, ///< turn → number: 0 ≤ x < 1
    // vec3
    add3,
    subtract3,
    negate3,
    scale3, ///< vec3, number
    dot,
    cross,
    compose, ///< three numbers
    x,
    y,
    z,
    unit3, ///< length 1; a vector of no length stays 0
    half3, ///< vec3 → vec3: each number as half does
    // slope
    noise1, ///< number in cells → slope; whole: index of the tile
    noise2,
    noise3,
    curve,   ///< number 0..1 → slope; whole: index of the curve
    valueOf, ///< slope → number
    slopeOf, ///< slope → vec3: derivatives by the operands
};
constexpr std::size_t kOps = static_cast<std::size_t>(Op::slopeOf) + 1;

struct OpRow {
    const char* name;
    Type result;
    std::uint8_t operands;
    std::array<Type, 4> takes;
};
const OpRow& opRow(Op op);

/// What vertices bring along.
constexpr bool isVertexInput(Op op) {
    return op <= Op::storedSlope;
}

using NodeId = std::uint32_t;

/// A number that may change while a score plays. Its derivative by the position is 0; bounds hold for all of
/// its range.
struct LiveNumber {
    float value = 0.0f; ///< what the processor evaluates it to, and the default in code
    float least = 0.0f;
    float most = 0.0f;
    bool operator==(const LiveNumber&) const = default;
};

struct Node {
    Op op = Op::constant;
    std::uint8_t operands = 0;
    std::int32_t whole = 0;
    std::array<NodeId, 4> in{};
    glm::vec3 value{0.0f}; ///< of constants; numbers in x

    bool operator==(const Node&) const = default;
};

/// Expressions over a vertex, a copy and a turn, shared where they are the same. Nodes come after their
/// operands. One graph is evaluated on the processor, derived, bounded and printed as shader code.
class Graph {
public:
    /// Simplifies (constants, 0, 1, components of what was composed) and shares. Operands' types are checked:
    /// throws std::logic_error, for a program that builds wrong graphs is at fault and no person.
    NodeId add(Op op, std::span<const NodeId> in, std::int32_t whole = 0);
    NodeId add(Op op, std::initializer_list<NodeId> in = {}, std::int32_t whole = 0) {
        return add(op, std::span(in.begin(), in.size()), whole);
    }
    NodeId constant(float value);
    NodeId constant(const glm::vec3& value);
    /// Both return the index that noise and curve nodes name.
    std::int32_t addTile(const NoiseTile& tile);
    std::int32_t addCurve(std::span<const float> values);
    /// What parameter nodes name; each call adds one.
    std::int32_t addParameter(const LiveNumber& number);

    std::size_t size() const { return nodes_.size(); }
    const Node& operator[](NodeId id) const { return nodes_[id]; }
    Type typeOf(NodeId id) const { return opRow(nodes_[id].op).result; }
    const std::vector<NoiseTile>& tiles() const { return tiles_; }
    /// Values at i / n of the circle, i = 0..n−1.
    const std::vector<std::vector<float>>& curves() const { return curves_; }
    const std::vector<LiveNumber>& parameters() const { return parameters_; }

    bool isConstant(NodeId id) const {
        return nodes_[id].op == Op::constant || nodes_[id].op == Op::constant3;
    }
    /// True for each node that `roots` need.
    std::vector<char> needed(std::span<const NodeId> roots) const;
    /// True for each node in whose value none of these operations takes part.
    std::vector<char> freeOf(bool (*these)(Op)) const;
    /// True for each node that is the same for all vertices of a copy.
    std::vector<char> uniform() const { return freeOf(isVertexInput); }

private:
    NodeId intern(const Node& node);

    std::vector<Node> nodes_;
    std::unordered_multimap<std::uint64_t, NodeId> known_;
    std::vector<NoiseTile> tiles_;
    std::vector<std::vector<float>> curves_;
    std::vector<LiveNumber> parameters_;
};

} // namespace ripple::motion
