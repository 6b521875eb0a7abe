// Operations that code does in half precision.

#include "emit/score_expressions.h"

namespace ripple::emit {

using code::Base;
using code::Value;
using motion::Node;
using motion::NodeId;
using motion::Op;

namespace {

bool isHalfOp(Op op) {
    return op == Op::half || op == Op::half3;
}

/// The infix or function of an operation that languages have for 16-bit floats, too.
std::optional<code::Op> nativeOp(Op op) {
    switch (op) {
    case Op::add:
    case Op::add3:
        return code::Op::add;
    case Op::subtract:
    case Op::subtract3:
        return code::Op::subtract;
    case Op::multiply:
    case Op::scale3:
        return code::Op::multiply;
    case Op::least:
        return code::Op::least;
    case Op::most:
        return code::Op::most;
    case Op::dot:
        return code::Op::dot;
    case Op::cross:
        return code::Op::cross;
    // clang-format off
    case Op::position: case Op::normal: case Op::uv: case Op::uvSlope: case Op::colour:
    case Op::colourSlope: case Op::stored: case Op::storedSlope: case Op::turn: case Op::copyId:
    case Op::copyScale: case Op::copyOrigin: case Op::copyX: case Op::copyY: case Op::copyZ:
    case Op::parameter: case Op::wholeParameter: case Op::constant: case Op::constant3: case Op::divide:
    case Op::negate: case Op::absolute: case Op::root: case Op::smooth: case Op::select: case Op::half:
    case Op::numberOf: case Op::timesTurn: case Op::timesWhole: case Op::laterTurn: case Op::placeOnCircle:
    case Op::sine: case Op::cosine: case Op::sinc: case Op::fraction: case Op::negate3: case Op::compose:
    case Op::x: case Op::y: case Op::z: case Op::unit3: case Op::half3: case Op::noise1: case Op::noise2:
    case Op::noise3: case Op::curve: case Op::valueOf: case Op::slopeOf:
        // clang-format on
        break;
    }
    return std::nullopt;
}

} // namespace

void ScoreExpressions::findNative(const std::vector<char>& needed, const std::vector<int>& uses) {
    native_.assign(graph_.size(), 0);
    for (NodeId i = 0; i < graph_.size(); ++i) {
        if (!needed[i] || !isHalfOp(graph_[i].op)) {
            continue;
        }
        const NodeId inner = graph_[i].in[0];
        const Node& node = graph_[inner];
        bool all = nativeOp(node.op).has_value() && uses[inner] == 1;
        for (std::size_t k = 0; k < node.operands; ++k) {
            all = all && (isHalfOp(graph_[node.in[k]].op) || graph_.isConstant(node.in[k]));
        }
        native_[inner] = all;
    }
}

Value ScoreExpressions::inHalf(NodeId id) {
    const bool vector = graph_.typeOf(id) == motion::Type::vec3;
    const code::Type type = vector ? Base::half3 : Base::half;
    if (!graph_.isConstant(id)) {
        return *values_[id];
    }
    const glm::vec3& value = graph_[id].value;
    return vector ? code::make(type, {number(value.x), number(value.y), number(value.z)})
                  : code::make(type, {number(value.x)});
}

Value ScoreExpressions::native(NodeId id) {
    const Node& node = graph_[id];
    const code::Type type = graph_.typeOf(id) == motion::Type::vec3 ? Base::half3 : Base::half;
    return code::operation(*nativeOp(node.op), type, {inHalf(node.in[0]), inHalf(node.in[1])});
}

} // namespace ripple::emit
