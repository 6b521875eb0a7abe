// How voices swing.

#include "motion/voice_build.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ripple::motion {

namespace {

/// Mean of ((1 + sin) / 2)ⁿ over a turn: C(2n, n) / 4ⁿ.
double crestedMean(int n) {
    double mean = 1.0;
    for (int k = 1; k <= n; ++k) {
        mean *= (2.0 * k - 1.0) / (2.0 * k);
    }
    return mean;
}

std::vector<float> centred(std::vector<float> curve) {
    // The cubic's mean over the circle is that of its points.
    const float mean = std::accumulate(curve.begin(), curve.end(), 0.0f) / static_cast<float>(curve.size());
    for (float& value : curve) {
        value -= mean;
    }
    return curve;
}

Number pulse(const BuildContext& at, const Shape& shape, Turn place) {
    const Number f = fraction(place);
    const auto over = static_cast<float>(1.0 / shape.softness);
    const Number up = smooth(over * f);
    const Number down = smooth(over * (f - static_cast<float>(shape.duty)));
    const Number raised = up - down;
    at.ranges.push_back({raised.id, 0.0f, 1.0f});
    const double most = std::max(shape.duty, 1.0 - shape.duty);
    return static_cast<float>(1.0 / most) * (raised - static_cast<float>(shape.duty));
}

Number crested(const Shape& shape, Turn place) {
    const Number half = 0.5f * sine(place) + 0.5f;
    Number power = half;
    for (int k = 1; k < shape.sharpness; ++k) {
        power = power * half;
    }
    const double mean = crestedMean(shape.sharpness);
    return static_cast<float>(1.0 / (1.0 - mean)) * (power - static_cast<float>(mean));
}

Number noiseAt(const BuildContext& at, const Shape& shape, Turn place, const std::array<Number, 2>& across,
               int acrossCount) {
    // A wavelength is a tile: the noise moves a whole number of tiles in a loop, and tiles fit side by side.
    const auto cells = static_cast<float>(shape.detail);
    const std::int32_t tile = at.graph.addTile({{shape.detail, shape.detail, shape.detail}, shape.seed});
    std::array<NodeId, 3> in{(cells * fraction(place)).id, 0, 0};
    for (int i = 0; i < acrossCount; ++i) {
        in[static_cast<std::size_t>(i) + 1] = (cells * across[static_cast<std::size_t>(i)]).id;
    }
    const Op op = acrossCount == 0 ? Op::noise1 : acrossCount == 1 ? Op::noise2 : Op::noise3;
    const Slope slope{&at.graph,
                      at.graph.add(op, std::span(in).first(static_cast<std::size_t>(acrossCount) + 1), tile)};
    return valueOf(slope);
}

} // namespace

Number shapeAt(const BuildContext& at, const Shape& shape, Turn place, const std::array<Number, 2>& across,
               int acrossCount) {
    switch (shape.kind) {
    case ShapeKind::sine:
        break;
    case ShapeKind::triangle:
        // 4 · |fraction(x + ¾) − ½| − 1 rises through 0 as the sine does.
        return 4.0f * absolute(fraction(place + 0.75f) - 0.5f) - 1.0f;
    case ShapeKind::pulse:
        return pulse(at, shape, place);
    case ShapeKind::crested:
        return crested(shape, place);
    case ShapeKind::noise:
        return noiseAt(at, shape, place, across, acrossCount);
    case ShapeKind::curve: {
        const std::int32_t curve = at.graph.addCurve(centred(shape.curve));
        return valueOf(Slope{&at.graph, at.graph.add(Op::curve, {fraction(place).id}, curve)});
    }
    }
    return sine(place);
}

std::array<double, 2> shapeRange(const Shape& shape) {
    switch (shape.kind) {
    case ShapeKind::pulse: {
        const double most = std::max(shape.duty, 1.0 - shape.duty);
        return {-shape.duty / most, (1.0 - shape.duty) / most};
    }
    case ShapeKind::crested: {
        const double mean = crestedMean(shape.sharpness);
        return {-mean / (1.0 - mean), 1.0};
    }
    case ShapeKind::curve: {
        const auto range = curveRange(centred(shape.curve));
        return {static_cast<double>(range[0]), static_cast<double>(range[1])};
    }
    case ShapeKind::sine:
    case ShapeKind::triangle:
    case ShapeKind::noise:
        break;
    }
    return {-1.0, 1.0};
}

} // namespace ripple::motion
