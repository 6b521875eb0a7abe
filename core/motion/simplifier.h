#pragma once

// Not for use outside this folder: see simplify.h.

#include "motion/simplify.h"

namespace ripple::motion {

/// The node that stands for an operation; nothing where no rule applies.
using Simpler = std::optional<NodeId>;

/// A constant vector, times a number if there is one.
struct Scaled {
    glm::vec3 way;
    std::optional<NodeId> by;
};

/// Rewrites one operation. Rules add what they need of simpler operations, which are simplified in their
/// turn, so that each rule looks at one step only.
class Simplifier {
public:
    Simplifier(Graph& graph, const Node& node) : g_(graph), node_(node), a_(node.in[0]), b_(node.in[1]) {}
    Simpler simplified();

private:
    Simpler sum();
    Simpler difference();
    Simpler product();
    Simpler negative();
    Simpler choice();
    Simpler negative3();
    Simpler scaledVector();
    Simpler dotProduct();
    Simpler crossProduct();
    Simpler component();
    Simpler vectorSum();
    bool is(NodeId id, float value) const { return g_[id].op == Op::constant && g_[id].value.x == value; }
    bool isZero3(NodeId id) const { return g_[id].op == Op::constant3 && g_[id].value == glm::vec3(0.0f); }
    std::optional<Scaled> scaled(NodeId id) const;

    Graph& g_;
    const Node& node_;
    const NodeId a_; ///< the first operand
    const NodeId b_; ///< the second, if there is one
};

} // namespace ripple::motion
