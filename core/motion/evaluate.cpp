#include "motion/evaluate.h"

#include "base/parallel.h"
#include "motion/lane_math.h"

#include <algorithm>

namespace ripple::motion {

using base::Lanes;

namespace {

/// Reads an operand's component for one group of lanes after the other.
struct Reader {
    const float* at;
    std::size_t stride;
    Lanes next() {
        const Lanes value = base::loadLanes(at);
        at += stride;
        return value;
    }
};

} // namespace

void Evaluator::step(const Step& s, float* memory, std::size_t lanes, bool same) const {
    // Components of a value lie one behind the other: one Lanes each where all vertices share it, else a
    // block.
    const std::size_t width = same ? kLaneFloats : kBlock;
    const auto operand = [&](std::size_t k, std::size_t component) {
        const std::size_t own = s.same[k] ? kLaneFloats : kBlock;
        return Reader{memory + s.in[k] + component * own, s.same[k] ? 0 : kLaneFloats};
    };
    const auto result = [&](std::size_t component) { return memory + s.out + component * width; };
    const auto one = [&](auto function) {
        Reader a = operand(0, 0);
        float* out = result(0);
        for (std::size_t i = 0; i < lanes; ++i, out += kLaneFloats) {
            base::storeLanes(out, function(a.next()));
        }
    };
    const auto two = [&](auto function) {
        Reader a = operand(0, 0);
        Reader b = operand(1, 0);
        float* out = result(0);
        for (std::size_t i = 0; i < lanes; ++i, out += kLaneFloats) {
            base::storeLanes(out, function(a.next(), b.next()));
        }
    };
    const auto noisy = [&](int dimensions) {
        Reader in[3] = {operand(0, 0), operand(dimensions > 1 ? 1 : 0, 0),
                        operand(dimensions > 2 ? 2 : 0, 0)};
        const NoiseTile& tile = tiles_[static_cast<std::size_t>(s.whole)];
        for (std::size_t i = 0; i < lanes; ++i) {
            const Lanes at[3] = {in[0].next(), in[1].next(), in[2].next()};
            Lanes value;
            Lanes slope[3];
            noise(tile, dimensions, at, value, slope);
            for (std::size_t c = 0; c < 3; ++c) {
                base::storeLanes(result(c) + i * kLaneFloats, slope[c]);
            }
            base::storeLanes(result(3) + i * kLaneFloats, value);
        }
    };
    switch (s.op) {
    case Op::add:
    case Op::laterTurn:
        return two([](const Lanes& a, const Lanes& b) { return a + b; });
    case Op::subtract:
        return two([](const Lanes& a, const Lanes& b) { return a - b; });
    case Op::multiply:
    case Op::timesWhole:
        return two([](const Lanes& a, const Lanes& b) { return a * b; });
    case Op::divide:
        return two([](const Lanes& a, const Lanes& b) { return a / b; });
    case Op::least:
        return two([](const Lanes& a, const Lanes& b) { return base::least(a, b); });
    case Op::most:
        return two([](const Lanes& a, const Lanes& b) { return base::most(a, b); });
    case Op::negate:
        return one([](const Lanes& a) { return -a; });
    case Op::absolute:
        return one([](const Lanes& a) { return base::absolute(a); });
    case Op::root:
        return one([](const Lanes& a) { return base::squareRoot(a); });
    case Op::half:
        return one([](const Lanes& a) { return roundedToHalf(a); });
    case Op::smooth:
        return one([](const Lanes& a) {
            const Lanes t = base::least(base::most(a, base::lanes(0.0f)), base::lanes(1.0f));
            return t * t * (3.0f - 2.0f * t);
        });
    case Op::select: {
        Reader a = operand(0, 0);
        Reader b = operand(1, 0);
        Reader yes = operand(2, 0);
        Reader no = operand(3, 0);
        float* out = result(0);
        for (std::size_t i = 0; i < lanes; ++i, out += kLaneFloats) {
            base::storeLanes(out, base::select(a.next() < b.next(), yes.next(), no.next()));
        }
        return;
    }
    case Op::timesTurn:
        return one([k = static_cast<float>(s.whole)](const Lanes& a) { return k * a; });
    case Op::sine:
        return one([](const Lanes& a) { return sineOfTurn(a); });
    case Op::cosine:
        return one([](const Lanes& a) { return sineOfTurn(a + 0.25f); });
    case Op::sinc:
        return one([](const Lanes& a) { return sincOfTurns(a); });
    case Op::fraction:
        return one([](const Lanes& a) { return fractionOf(a); });
    case Op::compose:
        for (std::size_t c = 0; c < 3; ++c) {
            Reader a = operand(c, 0);
            for (std::size_t i = 0; i < lanes; ++i) {
                base::storeLanes(result(c) + i * kLaneFloats, a.next());
            }
        }
        return;
    case Op::unit3: {
        Reader a[3] = {operand(0, 0), operand(0, 1), operand(0, 2)};
        for (std::size_t i = 0; i < lanes; ++i) {
            const Lanes v[3] = {a[0].next(), a[1].next(), a[2].next()};
            const Lanes square = v[0] * v[0] + v[1] * v[1] + v[2] * v[2];
            const Lanes zero = base::lanes(0.0f);
            const Lanes over = base::select(square > zero, 1.0f / base::squareRoot(square), zero);
            for (std::size_t c = 0; c < 3; ++c) {
                base::storeLanes(result(c) + i * kLaneFloats, v[c] * over);
            }
        }
        return;
    }
    case Op::noise1:
        return noisy(1);
    case Op::noise2:
        return noisy(2);
    case Op::noise3:
        return noisy(3);
    case Op::curve: {
        Reader a = operand(0, 0);
        const std::vector<float>& values = curves_[static_cast<std::size_t>(s.whole)];
        for (std::size_t i = 0; i < lanes; ++i) {
            Lanes value;
            Lanes slope;
            closedCurve(values, a.next(), value, slope);
            base::storeLanes(result(0) + i * kLaneFloats, slope);
            base::storeLanes(result(3) + i * kLaneFloats, value);
        }
        return;
    }
    // clang-format off
    case Op::position: case Op::normal: case Op::uv: case Op::uvSlope: case Op::colour:
    case Op::colourSlope: case Op::stored: case Op::storedSlope: case Op::turn: case Op::copyId:
    case Op::copyScale: case Op::copyOrigin: case Op::copyX: case Op::copyY: case Op::copyZ:
    case Op::parameter: case Op::wholeParameter: case Op::numberOf: case Op::constant: case Op::constant3:
    case Op::placeOnCircle: case Op::add3: case Op::subtract3:
    case Op::negate3: case Op::scale3: case Op::dot: case Op::cross: case Op::x: case Op::y: case Op::z:
    case Op::half3: case Op::valueOf: case Op::slopeOf:
        // clang-format on
        return; // what is given: loaded by prepare() and runBlock()
    }
}

void Evaluator::prepare(float* memory, const Copy& copy, float turn) const {
    const auto put = [&](const Step& s, const glm::vec3& value, std::size_t components) {
        for (std::size_t c = 0; c < components; ++c) {
            base::storeLanes(memory + s.out + c * kLaneFloats, base::lanes(value[static_cast<int>(c)]));
        }
    };
    for (const Step& s : before_) {
        switch (s.op) {
        case Op::turn:
            put(s, glm::vec3(turn), 1);
            break;
        case Op::copyId:
            put(s, glm::vec3(copy.id), 1);
            break;
        case Op::copyScale:
            put(s, glm::vec3(copy.scale), 1);
            break;
        case Op::copyOrigin:
            put(s, copy.origin, 3);
            break;
        case Op::copyX:
        case Op::copyY:
        case Op::copyZ:
            put(s, copy.axes[static_cast<int>(s.op) - static_cast<int>(Op::copyX)], 3);
            break;
        case Op::parameter:
        case Op::wholeParameter:
            put(s, glm::vec3(parameters_[static_cast<std::size_t>(s.whole)].value), 1);
            break;
        case Op::constant:
            put(s, s.value, 1);
            break;
        case Op::constant3:
            put(s, s.value, 3);
            break;
        // clang-format off
        case Op::position: case Op::normal: case Op::uv: case Op::uvSlope: case Op::colour:
        case Op::colourSlope: case Op::stored: case Op::storedSlope: case Op::add: case Op::subtract:
        case Op::multiply: case Op::divide: case Op::least: case Op::most: case Op::negate:
        case Op::absolute: case Op::root: case Op::smooth: case Op::select: case Op::numberOf:
        case Op::timesTurn: case Op::timesWhole: case Op::laterTurn: case Op::placeOnCircle: case Op::sine:
        case Op::cosine: case Op::sinc: case Op::fraction: case Op::add3: case Op::subtract3:
        case Op::negate3: case Op::scale3: case Op::dot: case Op::cross: case Op::compose: case Op::x: case Op::y: case Op::z: case Op::unit3: case Op::half: case Op::half3:
        case Op::noise1: case Op::noise2: case Op::noise3: case Op::curve: case Op::valueOf:
        case Op::slopeOf:
            // clang-format on
            step(s, memory, 1, true);
        }
    }
}

namespace {

void loadVectors(std::span<const glm::vec3> from, std::size_t first, std::size_t count, std::size_t padded,
                 float* to) {
    for (std::size_t i = 0; i < padded; ++i) {
        const glm::vec3& v = from[first + std::min(i, count - 1)];
        to[i] = v.x;
        to[Evaluator::kBlock + i] = v.y;
        to[2 * Evaluator::kBlock + i] = v.z;
    }
}

void loadNumbers(std::span<const float> from, std::size_t first, std::size_t count, std::size_t padded,
                 float* to) {
    for (std::size_t i = 0; i < padded; ++i) {
        to[i] = from[first + std::min(i, count - 1)];
    }
}

} // namespace

void Evaluator::runBlock(const VertexFields& fields, float* memory, std::size_t first, std::size_t count,
                         std::span<const Target> targets, std::size_t targetFirst) const {
    const std::size_t lanes = (count + kLaneFloats - 1) / kLaneFloats;
    const std::size_t padded = lanes * kLaneFloats;
    for (const Step& s : steps_) {
        const auto index = static_cast<std::size_t>(s.whole);
        float* to = memory + s.out;
        if (!isVertexInput(s.op)) {
            step(s, memory, lanes, false);
            continue;
        }
        switch (s.op) {
        case Op::position:
            loadVectors(fields.positions, first, count, padded, to);
            break;
        case Op::normal:
            loadVectors(fields.normals, first, count, padded, to);
            break;
        case Op::uv:
            loadNumbers(fields.uvs[index], first, count, padded, to);
            break;
        case Op::uvSlope:
            loadVectors(fields.uvSlopes[index], first, count, padded, to);
            break;
        case Op::colour:
            loadNumbers(fields.colours[index], first, count, padded, to);
            break;
        case Op::colourSlope:
            loadVectors(fields.colourSlopes[index], first, count, padded, to);
            break;
        case Op::stored:
            loadNumbers(fields.stored[index], first, count, padded, to);
            break;
        // clang-format off
        case Op::storedSlope: case Op::turn: case Op::copyId: case Op::copyScale: case Op::copyOrigin:
        case Op::copyX: case Op::copyY: case Op::copyZ: case Op::parameter: case Op::wholeParameter:
        case Op::numberOf: case Op::timesWhole: case Op::constant: case Op::constant3: case Op::add: case Op::subtract: case Op::multiply: case Op::divide: case Op::least: case Op::most:
        case Op::negate: case Op::absolute: case Op::root: case Op::smooth: case Op::select:
        case Op::timesTurn: case Op::laterTurn: case Op::placeOnCircle: case Op::sine: case Op::cosine:
        case Op::sinc: case Op::fraction: case Op::add3: case Op::subtract3: case Op::negate3:
        case Op::scale3: case Op::dot: case Op::cross: case Op::compose: case Op::x: case Op::y:
        case Op::z: case Op::unit3: case Op::half: case Op::half3: case Op::noise1: case Op::noise2: case Op::noise3: case Op::curve:
        case Op::valueOf: case Op::slopeOf:
            // clang-format on
            loadVectors(fields.storedSlopes[index], first, count, padded, to);
            break;
        }
    }
    for (std::size_t r = 0; r < roots_.size(); ++r) {
        const Root& root = roots_[r];
        const auto value = [&](std::size_t c, std::size_t i) {
            return memory[root.at[c] + (root.same[c] ? 0 : i)];
        };
        for (std::size_t i = 0; i < count; ++i) {
            if (root.vector) {
                targets[r].vectors[targetFirst + i] = {value(0, i), value(1, i), value(2, i)};
            } else {
                targets[r].numbers[targetFirst + i] = value(0, i);
            }
        }
    }
}

void Evaluator::runRange(const VertexFields& fields, const Copy& copy, float turn, std::size_t first,
                         std::size_t count, std::span<const Target> targets) const {
    std::vector<float> memory(floats_);
    prepare(memory.data(), copy, turn);
    for (std::size_t done = 0; done < count; done += kBlock) {
        runBlock(fields, memory.data(), first + done, std::min(kBlock, count - done), targets, done);
    }
}

void Evaluator::run(const VertexFields& fields, const Copy& copy, float turn,
                    std::span<const Target> targets) const {
    constexpr std::size_t kGrain = 32; // blocks for a thread at a time
    const std::size_t blocks = (fields.size() + kBlock - 1) / kBlock;
    base::parallelFor(blocks, kGrain, [&](std::size_t begin, std::size_t end) {
        std::vector<float> memory(floats_);
        prepare(memory.data(), copy, turn);
        for (std::size_t b = begin; b < end; ++b) {
            const std::size_t first = b * kBlock;
            runBlock(fields, memory.data(), first, std::min(kBlock, fields.size() - first), targets, first);
        }
    });
}

} // namespace ripple::motion
