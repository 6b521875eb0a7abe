// In which order an expression is evaluated, and where its values lie meanwhile.

#include "motion/evaluate.h"
#include "motion/lower.h"

#include <algorithm>

namespace ripple::motion {

namespace {

std::size_t componentsOf(Type type) {
    return type == Type::vec3 ? 3 : type == Type::slope ? 4 : 1;
}

/// Ops that only look at a part of their operand: they cost nothing, their value lies there already.
bool isView(Op op) {
    return op == Op::x || op == Op::y || op == Op::z || op == Op::valueOf || op == Op::slopeOf ||
           op == Op::placeOnCircle || op == Op::numberOf;
}

std::size_t viewedComponent(Op op) {
    return op == Op::y ? 1 : op == Op::z ? 2 : op == Op::valueOf ? 3 : 0;
}

} // namespace

Evaluator::Evaluator(const Graph& whole, std::span<const NodeId> wanted)
    : tiles_(whole.tiles()),
      curves_(whole.curves()),
      parameters_(whole.parameters()) {
    const Lowered low = lowered(whole, wanted);
    const Graph& graph = low.graph;
    std::vector<NodeId> roots;
    for (std::size_t r = 0; r < wanted.size(); ++r) {
        const std::size_t components = whole.typeOf(wanted[r]) == Type::vec3 ? 3 : 1;
        roots.insert(roots.end(), low.roots[r].begin(),
                     low.roots[r].begin() + static_cast<std::ptrdiff_t>(components));
    }
    const std::vector<char> needed = graph.needed(roots);
    const std::vector<char> same = graph.uniform();
    std::vector<std::uint32_t> place(graph.size(), 0);
    std::vector<std::size_t> lastUse(graph.size(), 0);
    for (const NodeId root : roots) {
        lastUse[root] = graph.size();
    }
    for (std::size_t i = graph.size(); i-- > 0;) {
        const Node& node = graph[static_cast<NodeId>(i)];
        for (std::size_t k = 0; needed[i] && k < node.operands; ++k) {
            // What looks at a value keeps it until it is not looked at any more.
            const std::size_t until = isView(node.op) ? std::max(i, lastUse[i]) : i;
            lastUse[node.in[k]] = std::max(lastUse[node.in[k]], until);
        }
    }
    // Values that are the same for all keep their places; those of vertices are used again when nobody reads
    // them any more. Free places are listed by the number of their components.
    std::vector<std::vector<std::uint32_t>> free(5);
    std::vector<std::vector<NodeId>> endsAt(graph.size() + 1);
    const auto take = [&](std::size_t components, std::size_t width) {
        auto& list = free[components];
        if (width == kBlock && !list.empty()) {
            const std::uint32_t at = list.back();
            list.pop_back();
            return at;
        }
        const std::size_t at = floats_;
        floats_ += components * width;
        return static_cast<std::uint32_t>(at);
    };
    for (NodeId i = 0; i < graph.size(); ++i) {
        if (!needed[i]) {
            continue;
        }
        const Node& node = graph[i];
        const std::size_t components = componentsOf(graph.typeOf(i));
        const std::size_t width = same[i] ? kLaneFloats : kBlock;
        if (isView(node.op)) {
            place[i] = place[node.in[0]] + static_cast<std::uint32_t>(viewedComponent(node.op) * width);
        } else {
            Step made;
            made.op = node.op;
            made.whole = node.whole;
            made.value = node.value;
            for (std::size_t k = 0; k < node.operands; ++k) {
                made.in[k] = place[node.in[k]];
                made.same[k] = same[node.in[k]] != 0;
            }
            place[i] = take(components, width);
            made.out = place[i];
            (same[i] ? before_ : steps_).push_back(made);
        }
        if (!same[i]) {
            if (!isView(node.op)) {
                endsAt[std::max<std::size_t>(lastUse[i], i)].push_back(i);
            }
            for (const NodeId dead : endsAt[i]) {
                free[componentsOf(graph.typeOf(dead))].push_back(place[dead]);
            }
        }
    }
    for (std::size_t r = 0; r < wanted.size(); ++r) {
        Root root;
        root.vector = whole.typeOf(wanted[r]) == Type::vec3;
        for (std::size_t c = 0; c < (root.vector ? 3 : 1); ++c) {
            root.at[c] = place[low.roots[r][c]];
            root.same[c] = same[low.roots[r][c]] != 0;
        }
        roots_.push_back(root);
    }
}

} // namespace ripple::motion
