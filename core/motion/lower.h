#pragma once

#include "motion/graph.h"

#include <array>

namespace ripple::motion {

/// A graph whose vectors are taken apart into their components, so that what is 0 or 1 in one of them alone
/// falls away: an offset along Y costs one addition, not three. For processors that compute number by number;
/// shading languages keep their vectors.
struct Lowered {
    Graph graph;
    std::vector<std::array<NodeId, 3>> roots; ///< of numbers and turns in the first
};
Lowered lowered(const Graph& graph, std::span<const NodeId> roots);

} // namespace ripple::motion
