// How voices swing: the rows of shapes.

#include "motion/kinds.h"
#include "motion/score_steps.h"
#include "motion/voice_build.h"

#include <algorithm>
#include <numeric>

namespace ripple::motion {

namespace {

using Unit = FieldUnit;

std::array<double, 2> fromMinusOneToOne(const Shape&) {
    return {-1.0, 1.0};
}

double oneWave(const Shape&) {
    return 1.0;
}

/// Corners and steep parts want half as many points again as a sine.
double steepWave(const Shape&) {
    return 1.5;
}

std::string sineFormula(const Shape&, double) {
    return "sin(2π · x)";
}

std::string triangleFormula(const Shape&, double) {
    return "4 · abs(fract(x + 0.75) − 0.5) − 1";
}

// Sine and triangle

Number sineAt(const BuildContext&, const Shape&, const ShapePlace& place) {
    return sine(place.turn);
}

Number triangleAt(const BuildContext&, const Shape&, const ShapePlace& place) {
    // 4 · |fraction(x + ¾) − ½| − 1 rises through 0 as the sine does.
    return 4.0f * absolute(fraction(place.turn + 0.75f) - 0.5f) - 1.0f;
}

// Pulse: up for `duty` of the turn. The mean of its 0 and 1 is the duty, which is taken away; then the larger
// of both ends is brought to 1.

double shorterPart(const Shape& shape) {
    return std::min(shape.duty, 1.0 - shape.duty);
}

Number pulseAt(const BuildContext& at, const Shape& shape, const ShapePlace& place) {
    const Number f = fraction(place.turn);
    const Setting duty = at.setting("duty", shape.duty);
    const Setting over = Setting(1.0) / at.setting("softness", shape.softness);
    const Number up = smooth(over * f);
    const Number down = smooth(over * (f - duty));
    const Number raised = up - down;
    at.ranges.push_back({raised.id, 0.0f, 1.0f});
    return Setting(1.0) / larger(duty, Setting(1.0) - duty) * (raised - duty);
}

std::string pulseFormula(const Shape& shape, double) {
    const std::string duty = figure(shape.duty);
    const std::string soft = figure(shape.softness);
    return "(smoothstep(0, " + soft + ", fract(x)) − smoothstep(" + duty + ", " +
           figure(shape.duty + shape.softness) + ", fract(x)) − " + duty + ") / " +
           figure(std::max(shape.duty, 1.0 - shape.duty));
}

std::array<double, 2> pulseRange(const Shape& shape) {
    const double most = std::max(shape.duty, 1.0 - shape.duty);
    return {-shape.duty / most, (1.0 - shape.duty) / most};
}

/// An edge that took longer than the part it ends would never arrive.
void fitEdges(Shape& shape) {
    shape.softness = std::min(shape.softness, shorterPart(shape));
}

void checkEdges(const std::string& where, const Shape& shape) {
    requireWithin(where, "softness", shape.softness, 0.01, shorterPart(shape));
}

// Crested: ((1 + sine) / 2)ⁿ without its mean, brought to 1 at the crest.

/// Mean of ((1 + sin) / 2)ⁿ over a turn: C(2n, n) / 4ⁿ.
double crestedMean(int n) {
    double mean = 1.0;
    for (int k = 1; k <= n; ++k) {
        mean *= (2.0 * k - 1.0) / (2.0 * k);
    }
    return mean;
}

/// The sharpness is a parameter: each further power counts if the sharpness asks for it.
Number crestedAt(const BuildContext& at, Number sharpness, int most, Number half) {
    const Number one = at.constant(1.0);
    Number power = half;
    Number mean = at.constant(crestedMean(1));
    for (int k = 2; k <= most; ++k) {
        const Number before = at.constant(k - 0.5);
        power = power * select(before, sharpness, half, one);
        mean = mean * select(before, sharpness, at.constant((2.0 * k - 1.0) / (2.0 * k)), one);
    }
    at.ranges.push_back({power.id, 0.0f, 1.0f});
    at.ranges.push_back({mean.id, static_cast<float>(crestedMean(most)), 0.5f});
    return (power - mean) / (1.0f - mean);
}

Number crestedAt(const BuildContext& at, const Shape& shape, const ShapePlace& place) {
    const Number half = 0.5f * sine(place.turn) + 0.5f;
    if (const auto sharpness = at.whole("sharpness")) {
        const int most = static_cast<int>(at.reach("sharpness", shape.sharpness)[1]);
        return crestedAt(at, numberOf(*sharpness), most, half);
    }
    Number power = half;
    for (int k = 1; k < shape.sharpness; ++k) {
        power = power * half;
    }
    const double mean = crestedMean(shape.sharpness);
    return static_cast<float>(1.0 / (1.0 - mean)) * (power - static_cast<float>(mean));
}

std::string crestedFormula(const Shape& shape, double) {
    const double mean = crestedMean(shape.sharpness);
    return "(pow(0.5 + 0.5 · sin(2π · x), " + std::to_string(shape.sharpness) + ") − " + figure(mean) +
           ") / " + figure(1.0 - mean);
}

std::array<double, 2> crestedRange(const Shape& shape) {
    const double mean = crestedMean(shape.sharpness);
    return {-mean / (1.0 - mean), 1.0};
}

// Noise: a wavelength is a tile of `detail` cells. The noise moves a whole number of tiles in a loop, and
// tiles fit side by side.

Number noiseAt(const BuildContext& at, const Shape& shape, const ShapePlace& place) {
    const auto cells = static_cast<float>(shape.detail);
    const std::int32_t tile = at.graph.addTile({{shape.detail, shape.detail, shape.detail}, shape.seed});
    const int count = place.acrossCount;
    std::array<NodeId, 3> in{(cells * fraction(place.turn)).id, 0, 0};
    for (int i = 0; i < count; ++i) {
        in[static_cast<std::size_t>(i) + 1] = (cells * place.across[static_cast<std::size_t>(i)]).id;
    }
    const Op op = count == 0 ? Op::noise1 : count == 1 ? Op::noise2 : Op::noise3;
    const Slope slope{&at.graph,
                      at.graph.add(op, std::span(in).first(static_cast<std::size_t>(count) + 1), tile)};
    return valueOf(slope);
}

std::string noiseFormula(const Shape& shape, double) {
    return "gradient noise over " + std::to_string(shape.detail) +
           " cells a wave, at fract(x) and at the places beside the course, which repeats from wave to wave: "
           "take the noise functions of the code as they are";
}

std::string curveFormula(const Shape& shape, double) {
    std::string points;
    for (const float value : shape.curve) {
        points += (points.empty() ? "" : ", ") + figure(static_cast<double>(value));
    }
    return "a smooth closed curve through " + points +
           ", evenly spaced over fract(x), less its mean: take the curve function of the code as it is";
}

double cells(const Shape& shape) {
    return shape.detail;
}

// A drawn curve, without its mean; the mean of the cubic over the circle is that of its points.

std::vector<float> centred(std::vector<float> curve) {
    const float mean = std::accumulate(curve.begin(), curve.end(), 0.0f) / static_cast<float>(curve.size());
    for (float& value : curve) {
        value -= mean;
    }
    return curve;
}

Number curveAt(const BuildContext& at, const Shape& shape, const ShapePlace& place) {
    const std::int32_t curve = at.graph.addCurve(centred(shape.curve));
    return valueOf(Slope{&at.graph, at.graph.add(Op::curve, {fraction(place.turn).id}, curve)});
}

std::array<double, 2> rangeOfCurve(const Shape& shape) {
    const auto range = curveRange(centred(shape.curve));
    return {static_cast<double>(range[0]), static_cast<double>(range[1])};
}

void checkCurve(const std::string& where, const Shape& shape) {
    requireWithin(where, "points of the curve", static_cast<double>(shape.curve.size()), 3, 32);
    for (const float value : shape.curve) {
        requireWithin(where, "curve", static_cast<double>(value), -1.0, 1.0);
    }
}

} // namespace

const std::vector<ShapeRow>& shapeKinds() {
    using Kind = ShapeKind;
    const double seeds = 4294967295.0;
    static const std::vector<ShapeRow> kRows = {
        {{Kind::sine, "sine", "a sine", {}, "", sineFormula}, fromMinusOneToOne, oneWave, sineAt},
        {{Kind::triangle, "triangle", "a triangle wave", {}, "", triangleFormula},
         fromMinusOneToOne,
         steepWave,
         triangleAt},
        {{Kind::pulse,
          "pulse",
          "a pulse",
          {{"duty", "Duty cycle", Unit::share, &Shape::duty, 0.05, 0.95, 0.5, "of one turn"},
           {"softness", "Edge softness", Unit::share, &Shape::softness, 0.01, 0.5, 0.1, "of one turn"}},
          "",
          pulseFormula},
         pulseRange,
         steepWave,
         pulseAt,
         fitEdges,
         checkEdges},
        {{Kind::crested,
          "crested",
          "a crested wave",
          {{"sharpness", "Sharpness", Unit::whole, &Shape::sharpness, 1, 8, 3}},
          "",
          crestedFormula},
         crestedRange,
         steepWave,
         crestedAt},
        {{Kind::noise,
          "noise",
          "noise",
          {{"detail", "Detail", Unit::whole, &Shape::detail, 1, 64, 4, "cells per wave", "", "", true},
           {"seed", "Seed", Unit::whole, &Shape::seed, 0, seeds, 1, "", "", "", true}},
          "",
          noiseFormula},
         fromMinusOneToOne,
         cells,
         noiseAt},
        {{Kind::curve, "curve", "a drawn curve", {}, "", curveFormula},
         rangeOfCurve,
         steepWave,
         curveAt,
         nullptr,
         checkCurve},
    };
    return kRows;
}

const ShapeRow& rowOf(const Shape& shape) {
    return rowIn(shapeKinds(), shape.kind);
}

std::array<double, 2> shapeRange(const Shape& shape) {
    return rowOf(shape).range(shape);
}

} // namespace ripple::motion
