#pragma once

#include "motion/graph.h"

#include <optional>

namespace ripple::motion {

/// A node of `graph` that stands for `node`, which is to be added to it: constants are folded, zeros and ones
/// go, what is the same up to order or sign is written in one way. Nothing where it is as simple as it can
/// be.
std::optional<NodeId> simplified(Graph& graph, const Node& node);

} // namespace ripple::motion
