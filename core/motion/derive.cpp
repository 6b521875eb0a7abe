#include "motion/derive.h"

#include <algorithm>

#include <glm/gtc/constants.hpp>

namespace ripple::motion {

namespace {


} // namespace

Vec3 Derivation::of(Number value) {
    return {&graph_, known(value.id).id[0]};
}

Jacobian Derivation::of(Vec3 value) {
    const Known& columns = known(value.id);
    return {Vec3{&graph_, columns.id[0]}, Vec3{&graph_, columns.id[1]}, Vec3{&graph_, columns.id[2]}};
}

void Derivation::setDerivative(Number value, Vec3 gradient) {
    learn(value.id, {gradient.id, gradient.id, gradient.id});
}

void Derivation::setDerivative(Vec3 value, const Jacobian& jacobian) {
    learn(value.id, {jacobian[0].id, jacobian[1].id, jacobian[2].id});
}

void Derivation::learn(NodeId id, const std::array<NodeId, 3>& derivative) {
    if (known_.size() <= id) {
        known_.resize(id + 1);
    }
    known_[id] = {true, derivative};
}

const Derivation::Known& Derivation::known(NodeId id) {
    makeUpTo(id);
    return known_[id];
}

void Derivation::makeUpTo(NodeId id) {
    // Operands come before what uses them, so that one pass over what is needed does, and no recursion as
    // deep as a large score. What lies behind what is known is not needed.
    if (known_.size() <= id) {
        known_.resize(id + 1);
    }
    std::vector<char> needed(id + 1, 0);
    needed[id] = 1;
    for (NodeId i = id + 1; i-- > 0;) {
        for (std::size_t k = 0; needed[i] && !known_[i].made && k < graph_[i].operands; ++k) {
            needed[graph_[i].in[k]] = 1;
        }
    }
    for (NodeId i = 0; i <= id; ++i) {
        if (needed[i] && !known_[i].made) {
            const Known made = derive(i);
            known_[i] = made;
            known_[i].made = true;
        }
    }
}

/// The derivative of one operation from those of its operands, which are known: the rules of differentiation
/// (sum, product, quotient, chain rule), one case an operation. Adds nodes to the graph; those that turn out
/// to be zero or shared cost nothing, as the graph simplifies what is added.
Derivation::Known Derivation::derive(NodeId id) {
    const Node node = graph_[id]; // a copy: adding nodes moves them
    Graph& g = graph_;
    const auto in = [&](std::size_t i) { return Number{&g, node.in[i]}; };
    const auto vec = [&](std::size_t i) { return Vec3{&g, node.in[i]}; };
    const auto turn = [&](std::size_t i) { return Turn{&g, node.in[i]}; };
    const auto slope = [&](std::size_t i) { return Slope{&g, node.in[i]}; };
    const auto gradient = [&](std::size_t i) { return Vec3{&g, known_[node.in[i]].id[0]}; };
    const auto column = [&](std::size_t i, std::size_t c) { return Vec3{&g, known_[node.in[i]].id[c]}; };
    const Vec3 zero = vec3(g, glm::vec3(0.0f));
    const auto numberKnown = [](Vec3 d) { return Known{true, {d.id, d.id, d.id}}; };
    const auto vectorKnown = [](auto columnOf) {
        return Known{true,
                     {columnOf(std::size_t{0}).id, columnOf(std::size_t{1}).id, columnOf(std::size_t{2}).id}};
    };
    const auto self = Number{&g, id};
    if (vertex_ == Vertex::still && node.op <= Op::storedSlope) {
        return Known{true, {zero.id, zero.id, zero.id}};
    }
    switch (node.op) {
    case Op::position:
        return vectorKnown([&](std::size_t c) {
            glm::vec3 axis(0.0f);
            axis[static_cast<int>(c)] = 1.0f;
            return vec3(g, axis);
        });
    case Op::uv:
        return numberKnown({&g, g.add(Op::uvSlope, {}, node.whole)});
    case Op::colour:
        return numberKnown({&g, g.add(Op::colourSlope, {}, node.whole)});
    case Op::stored:
        return std::find(flat_.begin(), flat_.end(), node.whole) != flat_.end()
                   ? numberKnown(zero)
                   : numberKnown({&g, g.add(Op::storedSlope, {}, node.whole)});
    case Op::add:
        return numberKnown(gradient(0) + gradient(1));
    case Op::subtract:
        return numberKnown(gradient(0) - gradient(1));
    case Op::multiply:
        return numberKnown(gradient(0) * in(1) + gradient(1) * in(0));
    case Op::divide:
        return numberKnown((gradient(0) - gradient(1) * self) * (number(g, 1.0f) / in(1)));
    case Op::least:
    case Op::most: {
        // The gradient of the operand that is taken.
        const bool least = node.op == Op::least;
        const Number one = number(g, 1.0f);
        const Number none = number(g, 0.0f);
        const Node inner = g[node.in[0]];
        if (least && inner.op == Op::most && g.isConstant(inner.in[1]) && g.isConstant(node.in[1])) {
            // Held between two numbers: one question instead of two.
            const float low = g[inner.in[1]].value.x;
            const float high = g[node.in[1]].value.x;
            const Number x{&g, inner.in[0]};
            const Number within =
                select(absolute(x - 0.5f * (low + high)), number(g, 0.5f * (high - low)), one, none);
            return numberKnown(Vec3{&g, known_[inner.in[0]].id[0]} * within);
        }
        const Number first = least ? select(in(0), in(1), one, none) : select(in(1), in(0), one, none);
        return numberKnown(gradient(0) * first + gradient(1) * (1.0f - first));
    }
    case Op::negate:
        return numberKnown(-gradient(0));
    case Op::absolute:
        return numberKnown(gradient(0) * select(in(0), number(g, 0.0f), number(g, -1.0f), number(g, 1.0f)));
    case Op::root:
        // Of 0 the slope has no end: none is taken.
        return numberKnown(gradient(0) * (number(g, 0.5f) / most(self, number(g, 1e-12f))));
    case Op::smooth: {
        // 6t (1 − t) is 0 at both ends, so that it need not be asked where the operand lies.
        const Number t = between(in(0), 0.0f, 1.0f);
        return numberKnown(gradient(0) * (6.0f * (t * (1.0f - t))));
    }
    case Op::select: {
        const Number first = select(in(0), in(1), number(g, 1.0f), number(g, 0.0f));
        return numberKnown(gradient(2) * first + gradient(3) * (1.0f - first));
    }
    case Op::timesTurn:
        return numberKnown(gradient(0) * static_cast<float>(node.whole));
    case Op::timesWhole:
        return numberKnown(gradient(0) * numberOf(Whole{&g, node.in[1]}));
    case Op::laterTurn:
        return numberKnown(gradient(0) + gradient(1));
    case Op::half:
    case Op::placeOnCircle:
    case Op::fraction:
        return numberKnown(gradient(0));
    case Op::sine:
        return numberKnown(gradient(0) * (glm::two_pi<float>() * cosine(turn(0))));
    case Op::cosine:
        return numberKnown(gradient(0) * (-glm::two_pi<float>() * sine(turn(0))));
    case Op::sinc: {
        // (cos 2πx − sinc x) / x; near 0, where that loses its digits, its series: −(2π)²·x / 3.
        const Number x = in(0);
        const Number size = number(g, 0.01f);
        const Number one = number(g, 1.0f);
        const Number safe = select(absolute(x), size, one, x);
        const Number falls =
            select(absolute(x), size, (-glm::two_pi<float>() * glm::two_pi<float>() / 3.0f) * x, (cosine(placeOnCircle(x)) - self) / safe);
        return numberKnown(gradient(0) * falls);
    }
    case Op::add3:
        return vectorKnown([&](std::size_t c) { return column(0, c) + column(1, c); });
    case Op::subtract3:
        return vectorKnown([&](std::size_t c) { return column(0, c) - column(1, c); });
    case Op::half3:
        return vectorKnown([&](std::size_t c) { return column(0, c); });
    case Op::negate3:
        return vectorKnown([&](std::size_t c) { return -column(0, c); });
    case Op::scale3:
        return vectorKnown([&](std::size_t c) {
            return column(0, c) * in(1) + vec(0) * component(gradient(1), static_cast<int>(c));
        });
    case Op::dot: {
        std::array<Number, 3> d{};
        for (std::size_t c = 0; c < 3; ++c) {
            d[c] = dot(column(0, c), vec(1)) + dot(vec(0), column(1, c));
        }
        return numberKnown(compose(d[0], d[1], d[2]));
    }
    case Op::cross:
        return vectorKnown(
            [&](std::size_t c) { return cross(column(0, c), vec(1)) + cross(vec(0), column(1, c)); });
    case Op::compose:
        return vectorKnown([&](std::size_t c) {
            const int axis = static_cast<int>(c);
            return compose(component(gradient(0), axis), component(gradient(1), axis),
                           component(gradient(2), axis));
        });
    case Op::x:
    case Op::y:
    case Op::z: {
        const int c = static_cast<int>(node.op) - static_cast<int>(Op::x);
        return numberKnown(
            compose(component(column(0, 0), c), component(column(0, 1), c), component(column(0, 2), c)));
    }
    case Op::unit3: {
        // (d − u (u · d)) / length
        const Vec3 u{&g, id};
        const Number over = number(g, 1.0f) / most(root(dot(vec(0), vec(0))), number(g, 1e-12f));
        return vectorKnown([&](std::size_t c) { return (column(0, c) - u * dot(u, column(0, c))) * over; });
    }
    case Op::valueOf: {
        // The slope node's operands are its coordinates.
        const Node noise = g[node.in[0]];
        const Vec3 by = slopeOf(slope(0));
        Vec3 sum = zero;
        for (std::size_t i = 0; i < noise.operands; ++i) {
            sum = sum + Vec3{&g, known_[noise.in[i]].id[0]} * component(by, static_cast<int>(i));
        }
        return numberKnown(sum);
    }
    // clang-format off
    case Op::normal: case Op::uvSlope: case Op::colourSlope: case Op::storedSlope: case Op::turn:
    case Op::copyId: case Op::copyScale: case Op::copyOrigin: case Op::copyX: case Op::copyY:
    case Op::copyZ: case Op::parameter: case Op::wholeParameter: case Op::numberOf: case Op::constant: case Op::constant3: case Op::noise1: case Op::noise2:
    case Op::noise3: case Op::curve: case Op::slopeOf:
        // clang-format on
        break;
    }
    // The same everywhere; or (slopes of slopes) not asked for, as only first derivatives are.
    return Known{true, {zero.id, zero.id, zero.id}};
}

Vec3 crossed(const Jacobian& j, Vec3 normal) {
    return cross(j[1], j[2]) * component(normal, 0) + cross(j[2], j[0]) * component(normal, 1) +
           cross(j[0], j[1]) * component(normal, 2);
}

} // namespace ripple::motion
