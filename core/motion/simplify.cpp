// What a graph knows about operations before they are added to it.

#include "motion/graph.h"

#include <cmath>

#include <glm/geometric.hpp>

namespace ripple::motion {

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
    // clang-format off
    case Op::position: case Op::normal: case Op::uv: case Op::uvSlope: case Op::colour:
    case Op::colourSlope: case Op::stored: case Op::storedSlope: case Op::turn: case Op::copyId:
    case Op::copyScale: case Op::copyOrigin: case Op::copyX: case Op::copyY: case Op::copyZ:
    case Op::constant: case Op::constant3: case Op::root: case Op::smooth: case Op::select:
    case Op::timesTurn: case Op::laterTurn: case Op::placeOnCircle: case Op::sine: case Op::cosine:
    case Op::sinc: case Op::fraction: case Op::add3: case Op::subtract3: case Op::negate3: case Op::scale3:
    case Op::dot: case Op::cross: case Op::compose: case Op::x: case Op::y: case Op::z: case Op::unit3:
    case Op::noise1: case Op::noise2: case Op::noise3: case Op::curve: case Op::valueOf: case Op::slopeOf:
        // clang-format on
        break;
    }
    return std::sqrt(a);
}

/// But for rounding. The same for numbers of another size, so that code is the same for them.
bool areParallel(const glm::vec3& a, const glm::vec3& b) {
    const glm::vec3 across = glm::cross(a, b);
    return glm::dot(across, across) <= 1e-12f * glm::dot(a, a) * glm::dot(b, b);
}

} // namespace

std::optional<Graph::Scaled> Graph::scaled(NodeId id) const {
    const Node& node = nodes_[id];
    if (node.op == Op::constant3) {
        return Scaled{node.value, {}};
    }
    if (node.op == Op::scale3 && isConstant(node.in[0])) {
        return Scaled{nodes_[node.in[0]].value, node.in[1]};
    }
    return {};
}

bool Graph::simplifySum(const Node& node, NodeId& result) {
    const NodeId a = node.in[0];
    const NodeId b = node.in[1];
    const bool minus = node.op == Op::subtract3;
    if (isZero3(a)) {
        result = minus ? add(Op::negate3, {b}) : b;
        return true;
    }
    if (isZero3(b)) {
        result = a;
        return true;
    }
    if (!minus && nodes_[a].op == Op::constant3 && nodes_[b].op != Op::constant3) {
        result = add(Op::add3, {b, a}); // constants last
        return true;
    }
    // Along the same constant: v · s + 2 v · t is v · (s + 2 t), one number instead of two vectors.
    const auto second = scaled(b);
    const auto first = scaled(a);
    if (!second) {
        return false;
    }
    if (first) {
        const float ratio = glm::dot(first->way, second->way) / glm::dot(first->way, first->way);
        if (!first->by && !second->by) {
            result = constant(minus ? first->way - second->way : first->way + second->way);
            return true;
        }
        if (areParallel(first->way, second->way)) {
            const NodeId s = first->by.value_or(constant(1.0f));
            const NodeId t = second->by.value_or(constant(1.0f));
            const NodeId sum = add(Op::add, {s, add(Op::multiply, {constant(minus ? -ratio : ratio), t})});
            result = add(Op::scale3, {constant(first->way), sum});
            return true;
        }
        return false;
    }
    if (nodes_[a].op != Op::add3) {
        return false;
    }
    // (x + v · s) + v · t
    const auto before = scaled(nodes_[a].in[1]);
    if (before && ((!before->by && !second->by) || areParallel(before->way, second->way))) {
        const NodeId x = nodes_[a].in[0];
        const NodeId both = add(node.op, {nodes_[a].in[1], b});
        result = add(Op::add3, {x, both});
        return scaled(both).has_value();
    }
    return false;
}

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
        if (nodes_[b].op == Op::negate) {
            return becomes(add(Op::subtract, {a, nodes_[b].in[0]}));
        }
        if (nodes_[a].op == Op::negate) {
            return becomes(add(Op::subtract, {b, nodes_[a].in[0]}));
        }
        if (a == b) {
            return becomes(add(Op::multiply, {constant(2.0f), a}));
        }
        if (constantAt(0)) {
            return becomes(add(Op::add, {b, a})); // constants last, gathered: (x + 1) + 2 is x + 3
        }
        if (constantAt(1) && nodes_[a].op == Op::add && isConstant(nodes_[a].in[1])) {
            const NodeId both = constant(nodes_[nodes_[a].in[1]].value.x + value(1).x);
            return becomes(add(Op::add, {nodes_[a].in[0], both}));
        }
        if (constantAt(1) && nodes_[a].op == Op::subtract && isConstant(nodes_[a].in[0])) {
            const NodeId both = constant(nodes_[nodes_[a].in[0]].value.x + value(1).x);
            return becomes(add(Op::subtract, {both, nodes_[a].in[1]}));
        }
        return is(b, 0.0f) && becomes(a);
    case Op::subtract:
        if (is(a, 0.0f)) {
            return becomes(add(Op::negate, {b}));
        }
        if (nodes_[b].op == Op::negate) {
            return becomes(add(Op::add, {a, nodes_[b].in[0]}));
        }
        if (constantAt(1)) {
            return becomes(add(Op::add, {a, constant(-value(1).x)}));
        }
        if (nodes_[a].op == Op::negate) {
            return becomes(add(Op::negate, {add(Op::add, {nodes_[a].in[0], b})}));
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
        // Signs go into constants, or outward to where a sum takes them.
        if (nodes_[b].op == Op::negate) {
            const NodeId plain = nodes_[b].in[0];
            return becomes(constantAt(0) ? add(Op::multiply, {constant(-value(0).x), plain})
                                         : add(Op::negate, {add(Op::multiply, {a, plain})}));
        }
        if (nodes_[a].op == Op::negate) {
            return becomes(add(Op::negate, {add(Op::multiply, {nodes_[a].in[0], b})}));
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
        if (nodes_[a].op == Op::subtract) {
            return becomes(add(Op::subtract, {nodes_[a].in[1], nodes_[a].in[0]}));
        }
        if (nodes_[a].op == Op::multiply && isConstant(nodes_[a].in[0])) {
            const NodeId minus = constant(-nodes_[nodes_[a].in[0]].value.x);
            return becomes(add(Op::multiply, {minus, nodes_[a].in[1]}));
        }
        return nodes_[a].op == Op::negate && becomes(nodes_[a].in[0]);
    case Op::absolute:
        return nodes_[a].op == Op::negate && becomes(add(Op::absolute, {nodes_[a].in[0]}));
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
    case Op::subtract3:
        return simplifySum(node, result);
    case Op::negate3:
        if (const auto part = scaled(a); part && part->by) {
            return becomes(add(Op::scale3, {constant(-part->way), *part->by}));
        }
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
        if (is(b, -1.0f)) {
            return becomes(add(Op::negate3, {a}));
        }
        if (constantAt(0) && nodes_[b].op == Op::negate) {
            return becomes(add(Op::scale3, {constant(-value(0)), nodes_[b].in[0]}));
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
        if (a == b && nodes_[a].op == Op::normal) {
            return becomes(constant(1.0f));
        }
        for (const auto& [one, other] : {std::pair(a, b), std::pair(b, a)}) {
            const auto part = constantAt(1) ? std::nullopt : scaled(other);
            if (part && part->by) { // u · (v · s) is (u · v) · s
                return becomes(add(Op::multiply, {add(Op::dot, {one, constant(part->way)}), *part->by}));
            }
        }
        return (isZero3(a) || isZero3(b)) && becomes(constant(0.0f));
    case Op::cross:
        for (const bool second : {false, true}) {
            const auto part = scaled(second ? b : a);
            if (part && part->by) {
                const NodeId way = constant(part->way);
                const NodeId crossed = second ? add(Op::cross, {a, way}) : add(Op::cross, {way, b});
                return becomes(add(Op::scale3, {crossed, *part->by}));
            }
        }
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
        if (nodes_[a].op == Op::add3 || nodes_[a].op == Op::subtract3) {
            // A number instead of a vector where one side is known.
            const NodeId first = nodes_[a].in[0];
            const NodeId second = nodes_[a].in[1];
            const bool minus = nodes_[a].op == Op::subtract3;
            if (scaled(first) || scaled(second)) {
                const NodeId left = add(node.op, {first});
                return becomes(add(minus ? Op::subtract : Op::add, {left, add(node.op, {second})}));
            }
        }
        if (nodes_[a].op == Op::negate3) {
            return becomes(add(Op::negate, {add(node.op, {nodes_[a].in[0]})}));
        }
        if (nodes_[a].op == Op::scale3 && isConstant(nodes_[a].in[0])) {
            const NodeId factor = constant(nodes_[nodes_[a].in[0]].value[c]);
            return becomes(add(Op::multiply, {factor, nodes_[a].in[1]}));
        }
        return false;
    }
    // clang-format off
    case Op::position: case Op::normal: case Op::uv: case Op::uvSlope: case Op::colour:
    case Op::colourSlope: case Op::stored: case Op::storedSlope: case Op::turn: case Op::copyId:
    case Op::copyScale: case Op::copyOrigin: case Op::copyX: case Op::copyY: case Op::copyZ:
    case Op::constant: case Op::constant3: case Op::least: case Op::most: case Op::root: case Op::smooth:
    case Op::placeOnCircle: case Op::sine: case Op::cosine: case Op::sinc: case Op::fraction:
    case Op::unit3: case Op::noise1: case Op::noise2: case Op::noise3: case Op::curve: case Op::valueOf:
    case Op::slopeOf:
        // clang-format on
        break;
    }
    return false;
}

} // namespace ripple::motion
