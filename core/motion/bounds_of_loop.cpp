// Bounds of a whole loop by interval arithmetic: every operation gives the least and the most that it can be
// for operands between theirs (R. E. Moore, "Interval Analysis", 1966).

#include "base/parallel.h"
#include "base/progress.h"
#include "motion/lane_math.h"
#include "motion/loop_bounds.h"
#include "motion/perform.h"
#include "motion/span_math.h"

#include <algorithm>
#include <atomic>
#include <mutex>
#include <optional>

namespace ripple::motion {

using base::IntLanes;
using base::Lanes;

namespace {

/// Of a number or turn in the first, of a vector in three, of a slope its value in the first.
using Value = std::array<Span, 3>;

/// What a drawn curve reaches between two places: not further from its middle than it is steep.
class CurveSpan {
public:
    explicit CurveSpan(const std::vector<float>& values) : values_(values), range_(curveRange(values)) {
        const float more = 1e-3f * (range_[1] - range_[0]);
        range_ = {range_[0] - more, range_[1] + more};
        // The slope is a parabola between points: a tenth more holds what lies between.
        constexpr int kSteps = 2048;
        for (int i = 0; i < kSteps; ++i) {
            Lanes value;
            Lanes slope;
            closedCurve(values_, base::lanes(static_cast<float>(i) / kSteps), value, slope);
            steepest_ = std::max(steepest_, 1.1f * std::abs(slope[0]));
        }
    }
    Span over(const Span& x) const {
        Lanes middle;
        Lanes slope;
        closedCurve(values_, (x.low + x.high) * 0.5f, middle, slope);
        const Lanes away = (x.high - x.low) * (0.5f * steepest_);
        return {base::most(middle - away, base::lanes(range_[0])),
                base::least(middle + away, base::lanes(range_[1]))};
    }

private:
    std::span<const float> values_;
    std::array<float, 2> range_;
    float steepest_ = 0.0f;
};

Span within(const Span& a, const Lanes& most) {
    return {base::most(a.low, -most), base::least(a.high, most)};
}

/// Ops that answer otherwise for copies that are turned or scaled.
bool tellsTurn(Op op) {
    return op == Op::copyScale || op == Op::copyX || op == Op::copyY || op == Op::copyZ;
}

/// What is the same for all groups of vertices: which values stay through the turn, which change in it.
struct Route {
    Route(const Graph& graph, NodeId root, std::span<const KnownRange> known,
          const std::optional<CopySizes>& copySizes)
        : ranges(graph.size(), spanOf(-1e30f, 1e30f)),
          turned(copySizes) {
        const NodeId roots[] = {root};
        const std::vector<char> needed = graph.needed(roots);
        const std::vector<char> stays = graph.freeOf([](Op op) { return op == Op::turn; });
        for (NodeId i = 0; i < graph.size(); ++i) {
            if (needed[i]) {
                (stays[i] ? staying : changing).push_back(i);
                turnMatters = turnMatters || tellsTurn(graph[i].op);
            }
        }
        for (const std::vector<float>& values : graph.curves()) {
            curves.emplace_back(values);
        }
        for (const KnownRange& one : known) {
            ranges[one.node] = spanOf(one.low - 1e-3f, one.high + 1e-3f);
        }
    }

    std::vector<NodeId> staying;
    std::vector<NodeId> changing;
    std::vector<CurveSpan> curves;
    std::vector<Span> ranges; ///< nodes: of their first component
    std::optional<CopySizes>
        turned; ///< of copies of these sizes turned in any way; else of those that are neither
    bool turnMatters = false;
};

/// One group of vertices over slices of the turn.
class Walk {
public:
    Walk(const Graph& graph, const Route& route) : graph_(graph), route_(route), at_(graph.size()) {}

    /// Takes `count` vertices from `first`.
    void start(const VertexFields& fields, std::size_t first, std::size_t count) {
        run(route_.staying, fields, first, count, spanOf(0.0f, 1.0f));
    }
    /// The same vertices in a slice of the turn.
    void run(const VertexFields& fields, std::size_t first, std::size_t count, const Span& turn) {
        run(route_.changing, fields, first, count, turn);
    }
    const Value& operator[](NodeId id) const { return at_[id]; }

private:
    void run(std::span<const NodeId> nodes, const VertexFields& fields, std::size_t first, std::size_t count,
             const Span& turn) {
        for (const NodeId i : nodes) {
            Value& value = at_[i];
            value = valueOf(i, fields, first, count, turn);
            value[0] = {base::most(value[0].low, route_.ranges[i].low),
                        base::least(value[0].high, route_.ranges[i].high)};
        }
    }
    Value valueOf(NodeId id, const VertexFields& fields, std::size_t first, std::size_t count,
                  const Span& turn) const;
    /// No less than the length of a vector, which may be known better than its components are.
    Lanes longest(NodeId vector) const;
    Value given(const Node& node, const VertexFields& fields, std::size_t first, std::size_t count,
                const Span& turn) const;

    const Graph& graph_;
    const Route& route_;
    std::vector<Value> at_;
};

Value vectorOf(const glm::vec3& v) {
    return {exactly(v.x), exactly(v.y), exactly(v.z)};
}

Value Walk::given(const Node& node, const VertexFields& fields, std::size_t first, std::size_t count,
                  const Span& turn) const {
    constexpr float kFar = 1e6f; // metres
    const auto which = static_cast<std::size_t>(node.whole);
    const auto vectors = [&](std::span<const glm::vec3> from) {
        Value value{};
        for (std::size_t i = 0; i < base::kLanes; ++i) {
            const glm::vec3& v = from[first + std::min(i, count - 1)];
            for (std::size_t c = 0; c < 3; ++c) {
                value[c].low[i] = value[c].high[i] = v[static_cast<int>(c)];
            }
        }
        return value;
    };
    const auto numbers = [&](std::span<const float> from) {
        Value value{};
        for (std::size_t i = 0; i < base::kLanes; ++i) {
            value[0].low[i] = value[0].high[i] = from[first + std::min(i, count - 1)];
        }
        return value;
    };
    switch (node.op) {
    case Op::position:
        return vectors(fields.positions);
    case Op::normal:
        return vectors(fields.normals);
    case Op::uv:
        return numbers(fields.uvs[which]);
    case Op::uvSlope:
        return vectors(fields.uvSlopes[which]);
    case Op::colour:
        return numbers(fields.colours[which]);
    case Op::colourSlope:
        return vectors(fields.colourSlopes[which]);
    case Op::stored:
        return numbers(fields.stored[which]);
    case Op::storedSlope:
        return vectors(fields.storedSlopes[which]);
    case Op::turn:
        return {turn};
    case Op::copyId:
        return {spanOf(0.0f, 1.0f)}; // any copy
    case Op::copyScale:
        return {route_.turned ? spanOf((*route_.turned)[0], (*route_.turned)[1]) : exactly(1.0f)};
    case Op::parameter:
    case Op::wholeParameter: {
        const LiveNumber& number = graph_.parameters()[which];
        return {spanOf(number.least, number.most)};
    }
    case Op::constant:
        return {exactly(node.value.x)};
    case Op::constant3:
        return vectorOf(node.value);
    case Op::copyOrigin:
        return {spanOf(-kFar, kFar), spanOf(-kFar, kFar), spanOf(-kFar, kFar)};
    // clang-format off
    case Op::copyX: case Op::copyY: case Op::copyZ: case Op::add: case Op::subtract: case Op::multiply:
    case Op::divide: case Op::least: case Op::most: case Op::negate: case Op::absolute: case Op::root:
    case Op::half: case Op::half3: case Op::smooth: case Op::select: case Op::numberOf: case Op::timesWhole: case Op::timesTurn:
    case Op::laterTurn: case Op::placeOnCircle:
    case Op::sine: case Op::cosine: case Op::sinc: case Op::fraction: case Op::add3: case Op::subtract3:
    case Op::negate3: case Op::scale3: case Op::dot: case Op::cross: case Op::compose: case Op::x:
    case Op::y: case Op::z: case Op::unit3: case Op::noise1: case Op::noise2: case Op::noise3:
    case Op::curve: case Op::valueOf: case Op::slopeOf:
        // clang-format on
        break;
    }
    if (route_.turned) {
        return {spanOf(-1.0f, 1.0f), spanOf(-1.0f, 1.0f), spanOf(-1.0f, 1.0f)};
    }
    return vectorOf(Copy().axes[static_cast<int>(node.op) - static_cast<int>(Op::copyX)]);
}

Lanes Walk::longest(NodeId vector) const {
    const Node& node = graph_[vector];
    const Value& v = at_[vector];
    if (node.op == Op::unit3 || tellsTurn(node.op)) {
        return base::lanes(1.0f);
    }
    const Lanes box = rootOf(squared(v[0]) + squared(v[1]) + squared(v[2])).high;
    if (node.op == Op::scale3) {
        return base::least(box, longest(node.in[0]) * absoluteOf(at_[node.in[1]][0]).high);
    }
    return node.op == Op::cross ? base::least(box, longest(node.in[0]) * longest(node.in[1])) : box;
}

Value Walk::valueOf(NodeId id, const VertexFields& fields, std::size_t first, std::size_t count,
                    const Span& turn) const {
    const Node& node = graph_[id];
    const Value& a = at_[node.in[0]];
    const Value& b = at_[node.in[1]];
    const auto each = [&](auto function) { return Value{function(0), function(1), function(2)}; };
    switch (node.op) {
    case Op::add:
    case Op::laterTurn:
        return {a[0] + b[0]};
    case Op::subtract:
        return {a[0] - b[0]};
    case Op::multiply:
        return {node.in[0] == node.in[1] ? squared(a[0]) : a[0] * b[0]};
    case Op::divide:
        return {dividedBy(a[0], b[0])};
    case Op::least:
        return {Span{base::least(a[0].low, b[0].low), base::least(a[0].high, b[0].high)}};
    case Op::most:
        return {Span{base::most(a[0].low, b[0].low), base::most(a[0].high, b[0].high)}};
    case Op::negate:
        return {-a[0]};
    case Op::absolute:
        return {absoluteOf(a[0])};
    case Op::root:
        return {rootOf(a[0])};
    case Op::half:
        return {halfOf(a[0])};
    case Op::half3:
        return each([&](std::size_t c) { return halfOf(a[c]); });
    case Op::smooth:
        return {smoothOf(a[0])};
    case Op::select: {
        const Span& yes = at_[node.in[2]][0];
        const Span& no = at_[node.in[3]][0];
        const Span open = chosen(a[0].low >= b[0].high, no, joined(yes, no));
        return {chosen(a[0].high < b[0].low, yes, open)};
    }
    case Op::timesTurn:
        return {a[0] * exactly(static_cast<float>(node.whole))};
    case Op::timesWhole:
        return {a[0] * b[0]};
    case Op::numberOf:
    case Op::placeOnCircle:
        return {a[0]};
    case Op::sine:
        return {sineOf(a[0])};
    case Op::cosine:
        return {sineOf(a[0] + exactly(0.25f))};
    case Op::sinc:
        return {sincOf(a[0])};
    case Op::fraction:
        return {fractionOfSpan(a[0])};
    case Op::add3:
        return each([&](std::size_t c) { return a[c] + b[c]; });
    case Op::subtract3:
        return each([&](std::size_t c) { return a[c] - b[c]; });
    case Op::negate3:
        return each([&](std::size_t c) { return -a[c]; });
    case Op::scale3:
        return each([&](std::size_t c) { return a[c] * b[0]; });
    case Op::dot:
        if (node.in[0] == node.in[1]) {
            return {squared(a[0]) + squared(a[1]) + squared(a[2])};
        }
        return {within(a[0] * b[0] + a[1] * b[1] + a[2] * b[2], longest(node.in[0]) * longest(node.in[1]))};
    case Op::cross:
        return {a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]};
    case Op::compose:
        return {a[0], b[0], at_[node.in[2]][0]};
    case Op::x:
        return {a[0]};
    case Op::y:
        return {a[1]};
    case Op::z:
        return {a[2]};
    case Op::unit3: {
        // Exact where the vector is; else anything of length 1.
        const Span square = squared(a[0]) + squared(a[1]) + squared(a[2]);
        const Lanes zero = base::lanes(0.0f);
        const IntLanes away = square.low > zero;
        const Span length = rootOf(chosen(away, square, exactly(1.0f)));
        return each([&](std::size_t c) {
            const Span scaled = dividedBy(a[c], length);
            const Span inside{base::most(scaled.low, base::lanes(-1.0f)),
                              base::least(scaled.high, base::lanes(1.0f))};
            return chosen(away, inside, spanOf(-1.0f, 1.0f));
        });
    }
    case Op::noise1:
    case Op::noise2:
    case Op::noise3:
        return {spanOf(-1.0f, 1.0f)};
    case Op::curve:
        return {route_.curves[static_cast<std::size_t>(node.whole)].over(a[0])};
    case Op::valueOf:
        return {a[0]};
    case Op::slopeOf:
        return each([](std::size_t) { return spanOf(-1e6f, 1e6f); }); // of normals only, which unit3 bounds
                                                                      // clang-format off
    case Op::position: case Op::normal: case Op::uv: case Op::uvSlope: case Op::colour:
    case Op::colourSlope: case Op::stored: case Op::storedSlope: case Op::turn: case Op::copyId:
    case Op::copyScale: case Op::copyOrigin: case Op::copyX: case Op::copyY: case Op::copyZ:
    case Op::parameter: case Op::wholeParameter: case Op::constant: case Op::constant3:
                                                                      // clang-format on
        break;
    }
    return given(node, fields, first, count, turn);
}

/// `share` and `from`: which part of the whole work this is.
mesh::Bounds boundsOn(const Route& route, const Performance& performance, double from, double share,
                      const base::Progress& progress) {
    constexpr int kSlices = 64;
    const Graph& graph = performance.composition().graph;
    const NodeId root = performance.composition().position;
    const std::size_t vertices = performance.vertexCount();
    const std::size_t groups = (vertices + base::kLanes - 1) / base::kLanes;
    mesh::Bounds all;
    std::mutex lock;
    std::atomic<std::size_t> done{0};
    base::parallelFor(groups, 256, [&](std::size_t begin, std::size_t end) {
        Walk walk(graph, route);
        mesh::Bounds own;
        for (std::size_t g = begin; g < end; ++g) {
            const std::size_t first = g * base::kLanes;
            const std::size_t count = std::min(base::kLanes, vertices - first);
            walk.start(performance.fields(), first, count);
            for (int s = 0; s < kSlices; ++s) {
                walk.run(performance.fields(), first, count,
                         spanOf(static_cast<float>(s) / kSlices, static_cast<float>(s + 1) / kSlices));
                for (std::size_t i = 0; i < count; ++i) {
                    const Value& v = walk[root];
                    own.add(glm::vec3(v[0].low[i], v[1].low[i], v[2].low[i]));
                    own.add(glm::vec3(v[0].high[i], v[1].high[i], v[2].high[i]));
                }
            }
        }
        done += end - begin;
        progress.report(from + share * static_cast<double>(done) / static_cast<double>(groups));
        const std::lock_guard hold(lock);
        all.add(own);
    });
    // Single precision rounds each step to nearest; a part in a hundred thousand holds all of that.
    const float margin = 1e-5f * all.diagonal();
    if (!all.empty()) {
        all.min -= glm::vec3(margin);
        all.max += glm::vec3(margin);
    }
    return all;
}

} // namespace

LoopBounds boundsOfLoop(const Performance& performance, const CopySizes& sizes,
                        const base::Progress& progress) {
    const Composition& composition = performance.composition();
    const auto routeOf = [&](const std::optional<CopySizes>& turned) {
        return Route(composition.graph, composition.position, composition.ranges, turned);
    };
    const Route unturned = routeOf({});
    const double share = unturned.turnMatters ? 0.5 : 1.0;
    LoopBounds bounds;
    bounds.every = bounds.unturned = boundsOn(unturned, performance, 0.0, share, progress);
    if (unturned.turnMatters) {
        bounds.every = boundsOn(routeOf(sizes), performance, share, share, progress);
    }
    return bounds;
}

} // namespace ripple::motion
