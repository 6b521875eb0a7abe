// Rules for operations on vectors.

#include "motion/simplifier.h"

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

/// But for rounding. The same for numbers of another size, so that code is the same for them.
bool areParallel(const glm::vec3& a, const glm::vec3& b) {
    const glm::vec3 across = glm::cross(a, b);
    return glm::dot(across, across) <= 1e-12f * glm::dot(a, a) * glm::dot(b, b);
}

} // namespace

std::optional<Scaled> Simplifier::scaled(NodeId id) const {
    const Node& node = g_[id];
    if (node.op == Op::constant3) {
        return Scaled{node.value, {}};
    }
    if (node.op == Op::scale3 && g_.isConstant(node.in[0])) {
        return Scaled{g_[node.in[0]].value, node.in[1]};
    }
    return {};
}

Simpler Simplifier::negative3() {
    if (const auto part = scaled(a_); part && part->by) {
        return g_.add(Op::scale3, {g_.constant(-part->way), *part->by});
    }
    return g_.isConstant(a_) ? Simpler(g_.constant(-g_[a_].value)) : std::nullopt;
}

/// Numbers gather: (v · s) · t is v · (s · t).
Simpler Simplifier::scaledVector() {
    if (g_.isConstant(a_) && g_.isConstant(b_)) {
        return g_.constant(g_[a_].value * g_[b_].value.x);
    }
    if (isZero3(a_) || is(b_, 0.0f)) {
        return g_.constant(glm::vec3(0.0f));
    }
    if (g_.isConstant(a_) && g_[b_].op == Op::multiply && g_.isConstant(g_[b_].in[0])) {
        const NodeId scaled = g_.constant(g_[a_].value * g_[g_[b_].in[0]].value.x);
        return g_.add(Op::scale3, {scaled, g_[b_].in[1]});
    }
    if (g_[a_].op == Op::scale3 && g_.isConstant(g_[a_].in[0])) {
        const NodeId factor = g_.add(Op::multiply, {g_[a_].in[1], b_});
        return g_.add(Op::scale3, {g_[a_].in[0], factor});
    }
    if (is(b_, -1.0f)) {
        return g_.add(Op::negate3, {a_});
    }
    if (g_.isConstant(a_) && g_[b_].op == Op::negate) {
        return g_.add(Op::scale3, {g_.constant(-g_[a_].value), g_[b_].in[0]});
    }
    return is(b_, 1.0f) ? Simpler(a_) : std::nullopt;
}

/// Along an axis it is a component; numbers are taken out: u · (v s) is (u · v) s.
Simpler Simplifier::dotProduct() {
    if (g_.isConstant(a_) && g_.isConstant(b_)) {
        return g_.constant(glm::dot(g_[a_].value, g_[b_].value));
    }
    if (g_.isConstant(a_)) {
        return g_.add(Op::dot, {b_, a_}); // constants last
    }
    if (g_.isConstant(b_)) {
        const glm::vec3 axis = g_[b_].value;
        if (isZero3(b_)) {
            return g_.constant(0.0f);
        }
        if (g_[a_].op == Op::scale3 && g_.isConstant(g_[a_].in[0])) {
            const NodeId factor = g_.constant(glm::dot(g_[g_[a_].in[0]].value, axis));
            return g_.add(Op::multiply, {factor, g_[a_].in[1]});
        }
        for (int c = 0; c < 3; ++c) {
            glm::vec3 only(0.0f);
            only[c] = axis[c];
            if (axis == only) {
                const Op component = c == 0 ? Op::x : c == 1 ? Op::y : Op::z;
                return g_.add(Op::multiply, {g_.constant(axis[c]), g_.add(component, {a_})});
            }
        }
    }
    if (a_ == b_ && g_[a_].op == Op::normal) {
        return g_.constant(1.0f);
    }
    for (const auto& [one, other] : {std::pair(a_, b_), std::pair(b_, a_)}) {
        const auto part = g_.isConstant(b_) ? std::nullopt : scaled(other);
        if (part && part->by) { // u · (v · s) is (u · v) · s
            return g_.add(Op::multiply, {g_.add(Op::dot, {one, g_.constant(part->way)}), *part->by});
        }
    }
    return (isZero3(a_) || isZero3(b_)) ? Simpler(g_.constant(0.0f)) : std::nullopt;
}

/// Numbers are taken out: u × (v s) is (u × v) s.
Simpler Simplifier::crossProduct() {
    for (const bool second : {false, true}) {
        const auto part = scaled(second ? b_ : a_);
        if (part && part->by) {
            const NodeId way = g_.constant(part->way);
            const NodeId crossed = second ? g_.add(Op::cross, {a_, way}) : g_.add(Op::cross, {way, b_});
            return g_.add(Op::scale3, {crossed, *part->by});
        }
    }
    if (g_.isConstant(a_) && g_.isConstant(b_)) {
        return g_.constant(glm::cross(g_[a_].value, g_[b_].value));
    }
    return (isZero3(a_) || isZero3(b_)) ? Simpler(g_.constant(glm::vec3(0.0f))) : std::nullopt;
}

/// Of what was composed, its number; of a sum of which one side is known, a sum of numbers.
Simpler Simplifier::component() {
    const int c = static_cast<int>(node_.op) - static_cast<int>(Op::x);
    if (g_.isConstant(a_)) {
        return g_.constant(g_[a_].value[c]);
    }
    if (g_[a_].op == Op::compose) {
        return g_[a_].in[static_cast<std::size_t>(c)];
    }
    if (g_[a_].op == Op::add3 || g_[a_].op == Op::subtract3) {
        // A number instead of a_ vector where one side is known.
        const NodeId first = g_[a_].in[0];
        const NodeId second = g_[a_].in[1];
        const bool minus = g_[a_].op == Op::subtract3;
        if (scaled(first) || scaled(second)) {
            const NodeId left = g_.add(node_.op, {first});
            return g_.add(minus ? Op::subtract : Op::add, {left, g_.add(node_.op, {second})});
        }
    }
    if (g_[a_].op == Op::negate3) {
        return g_.add(Op::negate, {g_.add(node_.op, {g_[a_].in[0]})});
    }
    if (g_[a_].op == Op::scale3 && g_.isConstant(g_[a_].in[0])) {
        const NodeId factor = g_.constant(g_[g_[a_].in[0]].value[c]);
        return g_.add(Op::multiply, {factor, g_[a_].in[1]});
    }
    return std::nullopt;
}

/// Along the same constant v: v · s + 2 v · t is v · (s + 2 t), one number instead of two vectors.
Simpler Simplifier::vectorSum() {
    const bool minus = node_.op == Op::subtract3;
    if (isZero3(a_)) {
        return minus ? g_.add(Op::negate3, {b_}) : b_;
    }
    if (isZero3(b_)) {
        return a_;
    }
    if (!minus && g_[a_].op == Op::constant3 && g_[b_].op != Op::constant3) {
        return g_.add(Op::add3, {b_, a_}); // constants last
    }
    const auto second = scaled(b_);
    const auto first = scaled(a_);
    if (!second) {
        return std::nullopt;
    }
    if (first) {
        const float ratio = glm::dot(first->way, second->way) / glm::dot(first->way, first->way);
        if (!first->by && !second->by) {
            return g_.constant(minus ? first->way - second->way : first->way + second->way);
        }
        if (areParallel(first->way, second->way)) {
            const NodeId s = first->by.value_or(g_.constant(1.0f));
            const NodeId t = second->by.value_or(g_.constant(1.0f));
            const NodeId sum =
                g_.add(Op::add, {s, g_.add(Op::multiply, {g_.constant(minus ? -ratio : ratio), t})});
            return g_.add(Op::scale3, {g_.constant(first->way), sum});
        }
        return std::nullopt;
    }
    if (g_[a_].op != Op::add3) {
        return std::nullopt;
    }
    // (x + v · s) + v · t
    const auto before = scaled(g_[a_].in[1]);
    if (before && ((!before->by && !second->by) || areParallel(before->way, second->way))) {
        const NodeId x = g_[a_].in[0];
        const NodeId both = g_.add(node_.op, {g_[a_].in[1], b_});
        // Only where both became one: else the sum would grow.
        const NodeId sum = g_.add(Op::add3, {x, both});
        return scaled(both) ? Simpler(sum) : std::nullopt;
    }
    return std::nullopt;
}

} // namespace ripple::motion
