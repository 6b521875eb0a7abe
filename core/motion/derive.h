#pragma once

#include "motion/value.h"

#include <array>

namespace ripple::motion {

/// How a vector changes with the rest position: ∂v/∂x, ∂v/∂y, ∂v/∂z.
using Jacobian = std::array<Vec3, 3>;

/// Derivatives of expressions by the rest position, as further expressions of the same graph (forward mode: a
/// node's derivative is made from its operands'). Values per vertex (UVs, colours, stored values) change
/// along the surface as their slopes say; normals are taken for constant (the surface for flat around a
/// vertex), which leaves out (amplitude × curvature) for pushes along them. At kinks the derivative is that
/// of one side.
class Derivation {
public:
    enum class Vertex {
        varies, ///< what vertices have changes from one to the next
        still,  ///< only what is told by setDerivative() changes
    };
    explicit Derivation(Graph& graph, Vertex vertex = Vertex::varies) : graph_(graph), vertex_(vertex) {}

    /// From here on this is the derivative of `value`, whatever it is made of. Before anything is derived
    /// that uses it.
    void setDerivative(Number value, Vec3 gradient);
    void setDerivative(Vec3 value, const Jacobian& jacobian);
    /// A stored value that is the same all over each piece of the mesh, as `whole` of its node.
    void markPiecewiseConstant(std::int32_t stored) { flat_.push_back(stored); }

    Vec3 of(Number value);
    Jacobian of(Vec3 value);

private:
    struct Known {
        bool made = false;
        std::array<NodeId, 3> id{}; ///< numbers, turns: the gradient in id[0]; vectors: three columns
    };
    const Known& known(NodeId id);
    Known derive(NodeId id);
    void makeUpTo(NodeId id);

    void learn(NodeId id, const std::array<NodeId, 3>& derivative);

    Graph& graph_;
    Vertex vertex_;
    std::vector<std::int32_t> flat_;
    std::vector<Known> known_;
};

/// cofactor(J) · n: J's columns crossed with each other, weighted by n's components (docs/motion.md §4). Not
/// of unit length.
Vec3 crossed(const Jacobian& jacobian, Vec3 normal);

} // namespace ripple::motion
