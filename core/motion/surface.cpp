#include "motion/surface.h"

#include <algorithm>

namespace ripple::motion {

namespace {

bool isSame(const Jacobian& j) {
    return std::all_of(j.begin(), j.end(), &BuildContext::isNothing);
}

glm::vec3 axis(int c) {
    glm::vec3 v(0.0f);
    v[c] = 1.0f;
    return v;
}

} // namespace

Surface::Surface(const BuildContext& at) : at_(at), deformed_(at.rest()), facing_(at.restNormal()) {}

void Surface::deform(const DeformStep& step) {
    const std::size_t before = steps_.size();
    facing_ = step.normal(facing_, [&](Vec3 rest) { return carry(rest, before); });
    deformed_ = step.position;
    steps_.push_back(step);
}

Vec3 Surface::carry(Vec3 rest, std::size_t steps) const {
    Vec3 tangent = rest;
    for (std::size_t i = 0; i < steps; ++i) {
        tangent = steps_[i].tangent(tangent, rest);
    }
    return tangent;
}

void Surface::add(Vec3 way, Number size) {
    for (Push& push : pushes_) {
        if (push.way.id == way.id) {
            push.size = push.size + size;
            return;
        }
    }
    pushes_.push_back({way, size});
}

Vec3 Surface::position() const {
    Vec3 sum = deformed_;
    for (const Push& push : pushes_) {
        sum = sum + push.way * push.size;
    }
    return sum;
}

Vec3 Surface::normalOfDeformed() const {
    return steps_.empty() ? at_.restNormal() : unit(facing_);
}

Derivation Surface::derivation() const {
    Derivation derivation = at_.derivation();
    if (!steps_.empty()) {
        derivation.setDerivative(deformed_, {carry(at_.constant(axis(0)), steps_.size()),
                                             carry(at_.constant(axis(1)), steps_.size()),
                                             carry(at_.constant(axis(2)), steps_.size())});
    }
    return derivation;
}

Vec3 Surface::normal() const {
    if (pushes_.empty()) {
        return normalOfDeformed();
    }
    Derivation by = derivation();
    const bool same =
        std::all_of(pushes_.begin(), pushes_.end(), [&](const Push& p) { return isSame(by.of(p.way)); });
    // One or two cross products, or nine numbers and three of them.
    const std::size_t most = steps_.empty() ? 1 : 2;
    return unit(same && pushes_.size() <= most ? crossedPushes(by) : crossedColumns(by));
}

/// cofactor(J) · n for one or two pushes that go the same way everywhere, one cross product a push: see
/// Surface.
Vec3 Surface::crossedPushes(Derivation& by) const {
    const Vec3 normal = at_.restNormal();
    if (steps_.empty()) {
        // way × (n × g), multiplied out
        const Push& push = pushes_.front();
        const Vec3 g = by.of(push.size);
        return normal * (1.0f + dot(push.way, g)) - g * dot(push.way, normal);
    }
    Vec3 sum = facing_;
    for (std::size_t i = 0; i < pushes_.size(); ++i) {
        const Vec3 across = cross(normal, by.of(pushes_[i].size));
        Vec3 carried = carry(across, steps_.size());
        for (std::size_t k = 0; k < i; ++k) {
            carried = carried + pushes_[k].way * dot(by.of(pushes_[k].size), across);
        }
        sum = sum + cross(pushes_[i].way, carried);
    }
    return sum;
}

/// cofactor(J) · n from the three columns of J: how far the surface moves for a step along X, Y and Z at
/// rest. Each is what the bends and twists make of the axis, plus what every push adds to it: way · ∂size +
/// ∂way · size. The ways that are constant are summed by component, which is shorter than as vectors.
Vec3 Surface::crossedColumns(Derivation& by) const {
    Jacobian columns;
    for (std::size_t c = 0; c < 3; ++c) {
        Vec3 column = carry(at_.constant(axis(static_cast<int>(c))), steps_.size());
        std::array<Number, 3> steady{at_.constant(0.0), at_.constant(0.0), at_.constant(0.0)};
        for (const Push& push : pushes_) {
            const Number slope = component(by.of(push.size), static_cast<int>(c));
            if (at_.graph.isConstant(push.way.id)) {
                const glm::vec3 way = at_.graph[push.way.id].value;
                for (std::size_t k = 0; k < 3; ++k) {
                    steady[k] = steady[k] + way[static_cast<int>(k)] * slope;
                }
            } else {
                column = column + push.way * slope + by.of(push.way)[c] * push.size;
            }
        }
        columns[c] = column + compose(steady[0], steady[1], steady[2]);
    }
    return crossed(columns, at_.restNormal());
}

} // namespace ripple::motion
