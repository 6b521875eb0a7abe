// What voices are held by.

#include "motion/voice_build.h"

#include <glm/geometric.hpp>

namespace ripple::motion {

namespace {

Number looksAt(const BuildContext& at, const MaskTerm& term) {
    const Vec3 fromPoint = at.rest() - at.constant(term.point);
    switch (term.kind) {
    case MaskKind::planes: {
        const glm::vec3 direction = glm::normalize(term.direction);
        return dot(at.rest(), at.constant(direction)) - glm::dot(term.point, direction);
    }
    case MaskKind::uv:
        return at.uv("mask", term.uvSet, term.uvAxis);
    case MaskKind::point:
        return root(dot(fromPoint, fromPoint));
    case MaskKind::line: {
        const Vec3 line = at.constant(glm::normalize(term.direction));
        const Vec3 away = fromPoint - line * dot(fromPoint, line);
        return root(dot(away, away));
    }
    case MaskKind::colour:
        return at.colour(term.channel);
    case MaskKind::stored:
        break;
    }
    return at.stored("mask", term.stored);
}

/// 0 before `x` is 0, 1 after it is 1.
Number eased(Easing easing, Number x) {
    const Number t = between(x, 0.0f, 1.0f);
    switch (easing) {
    case Easing::linear:
        break;
    case Easing::smooth:
        return smooth(x);
    case Easing::late:
        return t * t;
    case Easing::early:
        return t * (2.0f - t);
    }
    return t;
}

Number termOf(const BuildContext& at, const MaskTerm& term) {
    const Number x = looksAt(at, term);
    const double width = term.high - term.low;
    const Number zero = at.constant(0.0);
    const Number one = at.constant(1.0);
    // A difference that is lost in single precision is none.
    Number m = std::abs(width) < 1e-6
                   ? select(x, at.constant(term.low), zero, one)
                   : eased(term.easing, static_cast<float>(1.0 / width) * (x - static_cast<float>(term.low)));
    if (term.flip) {
        m = 1.0f - m;
    }
    if (term.floor > 0.0) {
        m = static_cast<float>(1.0 - term.floor) * m + static_cast<float>(term.floor);
    }
    return m;
}

} // namespace

Number maskOf(const BuildContext& at, const std::vector<MaskTerm>& terms) {
    Number mask = at.constant(1.0);
    for (const MaskTerm& term : terms) {
        mask = mask * termOf(at, term);
    }
    return mask;
}

} // namespace ripple::motion
