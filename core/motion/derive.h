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
    explicit Derivation(Graph& graph) : graph_(graph) {}

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

    Graph& graph_;
    std::vector<Known> known_;
};

/// Normal of a displaced surface: unit(cofactor(J) · n), which is J's columns crossed with each other,
/// weighted by n's components (docs/motion.md §4).
Vec3 movedNormal(const Jacobian& jacobian, Vec3 normal);

} // namespace ripple::motion
