#include "emit/score_expressions.h"

#include "code/library.h"
#include "emit/identifier.h"
#include "emit/noise_code.h"

#include <algorithm>

namespace ripple::emit {

using code::Base;
using code::Value;
using motion::Graph;
using motion::Node;
using motion::NodeId;
using motion::Op;

namespace {

/// Parts of an expression, after which it gets a name, so that lines stay readable.
constexpr int kLongExpression = 14;

/// Ops that are as short as a name.
bool isPlain(Op op) {
    return isInput(op) || op == Op::turn || op == Op::placeOnCircle || op == Op::x || op == Op::y ||
           op == Op::z || op == Op::valueOf || op == Op::slopeOf || op == Op::numberOf;
}

/// Ops whose value is that of their operand.
bool isSame(Op op) {
    return op == Op::placeOnCircle || op == Op::numberOf;
}

/// As shader code takes it: a slope is the three derivatives in xyz and the value in w.
code::Type codeType(motion::Type type) {
    return type == motion::Type::vec3 ? Base::vec3 : type == motion::Type::slope ? Base::vec4 : Base::scalar;
}

} // namespace

ScoreExpressions::ScoreExpressions(code::Module& module, const motion::Composition& composition,
                                   const ScoreCodeChoices& choices, Value turn)
    : module_(module),
      graph_(composition.graph),
      stored_(composition.stored),
      parameters_(composition.parameters),
      chapters_(composition.chapters),
      ours_(choices.space.back()),
      vFromBelow_(choices.vFromBelow),
      mode_(choices.numbers),
      sine_(choices.sine),
      turn_(std::move(turn)) {}

void ScoreExpressions::write(code::Body& body, std::span<const NodeId> roots) {
    const std::vector<char> needed = graph_.needed(roots);
    const std::vector<int> uses = usesOf(needed);
    findClamps(needed, uses);
    findNative(needed, uses);
    values_.assign(graph_.size(), std::nullopt);
    parts_.assign(graph_.size(), 1);
    named_.assign(graph_.size(), 0);
    std::size_t chapter = 0;
    bool titled = true;
    for (NodeId i = 0; i < graph_.size(); ++i) {
        for (; chapter < chapters_.size() && chapters_[chapter].from <= i; ++chapter) {
            titled = false;
        }
        if (!needed[i] || graph_.isConstant(i)) {
            continue;
        }
        const Node& node = graph_[i];
        for (std::size_t k = 0; k < node.operands; ++k) {
            parts_[i] += parts_[node.in[k]];
        }
        if (clamped_[i] || native_[i]) {
            continue;
        }
        const Value value = make(i);
        if ((value.type().isHalf() || uses[i] > 1 || parts_[i] > kLongExpression) && !isPlain(node.op)) {
            if (!titled) {
                body.comment(commentOf(chapters_[chapter - 1].title));
                titled = true;
            }
            values_[i] = body.fixed("n" + std::to_string(++names_), value);
            named_[i] = 1;
            parts_[i] = 1;
        } else {
            values_[i] = value;
        }
    }
}

Value ScoreExpressions::valueOf(NodeId id) {
    // Numbers are made anew at each use: two that happen to be equal must not make another text.
    if (graph_.isConstant(id)) {
        return make(id);
    }
    const Value& value = *values_[id];
    return value.type().isHalf() ? code::make(codeType(graph_.typeOf(id)), {value}) : value;
}

std::vector<int> ScoreExpressions::usesOf(const std::vector<char>& needed) const {
    std::vector<int> uses(graph_.size(), 0);
    for (NodeId i = static_cast<NodeId>(graph_.size()); i-- > 0;) {
        // What stands for its operand is written again wherever it is used.
        const int times = isSame(graph_[i].op) ? std::max(uses[i], 1) : 1;
        for (std::size_t k = 0; needed[i] && k < graph_[i].operands; ++k) {
            uses[graph_[i].in[k]] += times;
        }
    }
    return uses;
}

void ScoreExpressions::findClamps(const std::vector<char>& needed, const std::vector<int>& uses) {
    clamped_.assign(graph_.size(), 0);
    for (NodeId i = 0; i < graph_.size(); ++i) {
        const Node& node = graph_[i];
        const Node& inner = graph_[node.in[0]];
        if (needed[i] && node.op == Op::least && inner.op == Op::most && uses[node.in[0]] == 1 &&
            graph_.isConstant(node.in[1]) && graph_.isConstant(inner.in[1])) {
            clamped_[node.in[0]] = 1;
        }
    }
}

Value ScoreExpressions::sineOf(NodeId place, bool cosine) {
    if (sine_ == Sine::exact) {
        return code::exactSine(module_, cosine ? valueOf(place) + 0.25f : valueOf(place));
    }
    return cosine ? code::operation(code::Op::cosine, Base::scalar, {angle(place)})
                  : code::sine(angle(place));
}

Value ScoreExpressions::angle(NodeId place) {
    constexpr float kTau = 6.28318530717958647692f;
    const NodeId at = graph_[place].op == Op::placeOnCircle ? graph_[place].in[0] : place;
    const Node& node = graph_[at];
    if (node.op == Op::multiply && graph_.isConstant(node.in[0]) && !named_[at]) {
        return number(kTau * graph_[node.in[0]].value.x) * valueOf(node.in[1]);
    }
    return kTau * valueOf(at);
}

Value ScoreExpressions::number(float value) const {
    return mode_ == Numbers::written ? Value(value) : code::loose(value);
}

Value ScoreExpressions::parameter(std::size_t index) const {
    const motion::LiveNumber& range = graph_.parameters()[index];
    if (mode_ == Numbers::loose) {
        return number(range.value);
    }
    const bool whole = parameters_[index].whole;
    const auto bound = [&](float of) { return whole ? Value(static_cast<int>(of)) : Value(of); };
    const Value given = code::named("parameters", code::Type::of(module_.own("parameters")))
                            .field(identifier(parameters_[index].name), whole ? Base::whole : Base::scalar);
    const Value held = code::clamp(given, bound(range.least), bound(range.most));
    return whole ? code::make(Base::scalar, {held}) : held;
}

Value ScoreExpressions::sum(const Node& node) {
    const Node& second = graph_[node.in[1]];
    if (second.op == Op::constant && second.value.x < 0.0f && mode_ == Numbers::written) {
        return valueOf(node.in[0]) - number(-second.value.x);
    }
    if (second.op == Op::negate && !named_[node.in[1]]) {
        return valueOf(node.in[0]) - valueOf(second.in[0]);
    }
    return valueOf(node.in[0]) + valueOf(node.in[1]);
}

Value ScoreExpressions::noiseOf(const Node& node) {
    const motion::NoiseTile& tile = graph_.tiles()[static_cast<std::size_t>(node.whole)];
    std::vector<Value> at;
    for (std::size_t k = 0; k < node.operands; ++k) {
        at.push_back(valueOf(node.in[k]));
    }
    return noise(module_, at, number(static_cast<float>(tile.cells[0])), tile.seed);
}

/// The object's axis in the world. That of the graph lies along one of the code's, or against it.
Value ScoreExpressions::axisOfCopy(std::size_t which) const {
    const Value axis = turned(ours_, code::column(code::named("copy_axes", Base::mat3), ours_.order[which]));
    return ours_.negative[which] ? -axis : axis;
}

Value ScoreExpressions::make(NodeId id) {
    const Node& node = graph_[id];
    const auto in = [&](std::size_t k) { return valueOf(node.in[k]); };
    const code::Type type = codeType(graph_.typeOf(id));
    const auto one = [&](code::Op op) { return code::operation(op, type, {in(0)}); };
    switch (node.op) {
    case Op::turn:
        return turn_;
    case Op::constant:
        return number(node.value.x);
    case Op::constant3:
        return code::make(Base::vec3, {number(node.value.x), number(node.value.y), number(node.value.z)});
    case Op::position:
    case Op::copyOrigin:
        return placed(ours_, code::named(inputOf(node, stored_).input.name, Base::vec3));
    case Op::normal:
        return turned(ours_, code::named(inputOf(node, stored_).input.name, Base::vec3));
    case Op::uvSlope:
    case Op::colourSlope:
    case Op::stored:
    case Op::storedSlope:
    case Op::copyId:
    case Op::copyScale: {
        const InputRow row = inputOf(node, stored_);
        return code::named(row.input.name, row.type);
    }
    case Op::uv: {
        const Value set = code::named(inputOf(node, stored_).input.name, Base::vec2);
        return node.whole % 2 == 0 ? set.x() : vFromBelow_ ? 1.0f - set.y() : set.y();
    }
    case Op::colour: {
        const char channel[] = {kChannels[node.whole & 3], '\0'};
        return code::named("vertex_colour", Base::vec4).components(channel);
    }
    case Op::copyX:
    case Op::copyY:
    case Op::copyZ:
        return axisOfCopy(static_cast<std::size_t>(node.op) - static_cast<std::size_t>(Op::copyX));
    case Op::add:
    case Op::laterTurn:
        return sum(node);
    case Op::add3:
        return in(0) + in(1);
    case Op::subtract:
    case Op::subtract3:
        return in(0) - in(1);
    case Op::multiply:
    case Op::scale3:
        return in(0) * in(1);
    case Op::divide:
        return in(0) / in(1);
    case Op::least: {
        const Node& inner = graph_[node.in[0]];
        return clamped_[node.in[0]] ? code::clamp(valueOf(inner.in[0]), valueOf(inner.in[1]), in(1))
                                    : code::least(in(0), in(1));
    }
    case Op::most:
        return code::most(in(0), in(1));
    case Op::negate:
    case Op::negate3:
        return -in(0);
    case Op::absolute:
        return one(code::Op::absolute);
    case Op::root:
        return one(code::Op::root);
    case Op::half:
    case Op::half3: {
        const code::Type narrow = node.op == Op::half ? Base::half : Base::half3;
        return native_[node.in[0]] ? native(node.in[0]) : code::make(narrow, {in(0)});
    }
    case Op::smooth:
        return one(code::Op::smoothstep);
    case Op::select:
        return code::choose(in(0) < in(1), in(2), in(3));
    case Op::parameter:
    case Op::wholeParameter:
        return parameter(static_cast<std::size_t>(node.whole));
    case Op::numberOf:
        return in(0);
    case Op::timesTurn:
        return number(static_cast<float>(node.whole)) * in(0);
    case Op::timesWhole:
        return in(1) * in(0);
    case Op::placeOnCircle:
        return in(0);
    case Op::sine:
    case Op::cosine:
        return sineOf(node.in[0], node.op == Op::cosine);
    case Op::sinc:
        return code::sinc(module_, in(0), sine_ == Sine::exact);
    case Op::fraction:
        return code::fraction(in(0));
    case Op::dot:
        return code::dot(in(0), in(1));
    case Op::cross:
        return code::cross(in(0), in(1));
    case Op::compose:
        return code::make(Base::vec3, {in(0), in(1), in(2)});
    case Op::x:
    case Op::y:
    case Op::z: {
        const char* component = node.op == Op::x ? "x" : node.op == Op::y ? "y" : "z";
        const Node& of = graph_[node.in[0]];
        // slope.xyz.x is slope.x
        return (of.op == Op::slopeOf ? valueOf(of.in[0]) : in(0)).components(component);
    }
    case Op::unit3:
        return code::unit(module_, in(0));
    case Op::noise1:
    case Op::noise2:
    case Op::noise3:
        return noiseOf(node);
    case Op::curve: {
        const auto index = static_cast<std::size_t>(node.whole);
        return curve(module_, index, graph_.curves()[index], in(0));
    }
    case Op::valueOf:
        return in(0).w();
    case Op::slopeOf:
        return in(0).xyz();
    }
    return number(0.0f);
}

} // namespace ripple::emit
