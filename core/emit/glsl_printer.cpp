#include "emit/glsl_printer.h"

#include "base/units.h"
#include "emit/glsl_reader.h"

#include <algorithm>

namespace ripple::emit {

using motion::Graph;
using motion::Node;
using motion::NodeId;
using motion::Op;
using motion::Type;

namespace {

constexpr const char* kChannels = "rgba";
constexpr std::size_t kLongExpression = 60;

std::string glslType(Type type) {
    return type == Type::vec3 ? "vec3" : type == Type::slope ? "vec4" : "float";
}

/// Ops that are as short as a name.
bool isPlain(Op op) {
    return isInput(op) || op == Op::turn || op == Op::placeOnCircle || op == Op::x || op == Op::y ||
           op == Op::z || op == Op::valueOf || op == Op::slopeOf;
}

} // namespace

namespace {

/// Names of stored values may differ in signs only that no identifier has: each gets one of its own.
std::string storedName(const std::vector<std::string>& stored, std::size_t index) {
    std::vector<std::string> taken;
    const auto isTaken = [&](const std::string& name) {
        return std::find(taken.begin(), taken.end(), name) != taken.end();
    };
    for (std::size_t i = 0; i <= index; ++i) {
        const std::string plain = identifier(stored[i]);
        std::string own = plain;
        for (int n = 2; isTaken(own) || isTaken("slope_" + own); ++n) {
            own = plain + "_" + std::to_string(n);
        }
        taken.push_back(own);
        taken.push_back("slope_" + own);
    }
    return taken[taken.size() - 2];
}

} // namespace

ScoreInput inputOf(const Node& node, const std::vector<std::string>& stored) {
    const std::string set = std::to_string(node.whole / 2);
    const std::string channel(1, kChannels[node.whole & 3]);
    const auto name = [&] { return storedName(stored, static_cast<std::size_t>(node.whole)); };
    switch (node.op) {
    case Op::position:
        return {node.op, 0, "vec3", "rest_position", "the mesh as imported, in its own space"};
    case Op::normal:
        return {node.op, 0, "vec3", "rest_normal", ""};
    case Op::uv:
        return {node.op, node.whole / 2, "vec2", "uv_set_" + set, "UV set " + set + ", counted from 0"};
    case Op::uvSlope:
        return {node.op, node.whole, "vec3", std::string(node.whole % 2 ? "v" : "u") + "_slope_" + set,
                "how it changes along the surface, per metre"};
    case Op::colour:
        return {node.op, 0, "vec4", "vertex_colour", "linear"};
    case Op::colourSlope:
        return {node.op, node.whole, "vec3", "colour_slope_" + channel,
                "how it changes along the surface, per metre"};
    case Op::stored:
        return {node.op, node.whole, "float", "stored_" + name(), "the value stored at the vertex"};
    case Op::storedSlope:
        return {node.op, node.whole, "vec3", "stored_slope_" + name(),
                "how it changes along the surface, per metre"};
    case Op::copyId:
        return {node.op, 0, "float", "copy_id", "0 to 1, another one for each copy"};
    case Op::copyScale:
        return {node.op, 0, "float", "copy_scale", "from the object to the world"};
    case Op::copyOrigin:
        return {node.op, 0, "vec3", "copy_origin", "where the copy stands in the world, metres"};
    default:
        return {Op::copyX, 0, "mat3", "copy_axes", "columns: the object's axes in the world, unit length"};
    }
}

bool isInput(Op op) {
    return op <= Op::storedSlope || (op >= Op::copyId && op <= Op::copyZ);
}

std::string commentOf(const std::string& text) {
    std::string line;
    for (const char c : text) {
        line += static_cast<unsigned char>(c) < 0x20 || c == '\\' ? ' ' : c; // a backslash joins lines
    }
    return line;
}

GlslPrinter::GlslPrinter(std::string id, const motion::Composition& composition, Numbers numbers)
    : id_(std::move(id)),
      graph_(composition.graph),
      stored_(composition.stored),
      chapters_(composition.chapters),
      mode_(numbers) {}

std::string GlslPrinter::statements(std::span<const NodeId> roots) {
    const std::vector<char> needed = graph_.needed(roots);
    const std::vector<int> uses = usesOf(needed);
    clamped_.assign(graph_.size(), 0);
    for (NodeId i = 0; i < graph_.size(); ++i) {
        const Node& node = graph_[i];
        const Node& inner = graph_[node.in[0]];
        if (needed[i] && node.op == Op::least && inner.op == Op::most && uses[node.in[0]] == 1 &&
            graph_.isConstant(node.in[1]) && graph_.isConstant(inner.in[1])) {
            clamped_[node.in[0]] = 1;
        }
    }
    std::string text;
    text_.assign(graph_.size(), {});
    std::size_t chapter = 0;
    bool titled = true;
    for (NodeId i = 0; i < graph_.size(); ++i) {
        for (; chapter < chapters_.size() && chapters_[chapter].from <= i; ++chapter) {
            titled = false;
        }
        if (!needed[i] || graph_.isConstant(i) || clamped_[i]) {
            continue;
        }
        std::string expression = print(i);
        // Long lines are broken up, too.
        const bool named = uses[i] > 1 || expression.size() > kLongExpression;
        if (named && !isPlain(graph_[i].op)) {
            if (!titled) {
                text += "    // " + commentOf(chapters_[chapter - 1].title) + "\n";
                titled = true;
            }
            const std::string name = "n" + std::to_string(++names_);
            text += "    " + glslType(graph_.typeOf(i)) + " " + name + " = " + bare(expression) + ";\n";
            expression = name;
        }
        text_[i] = std::move(expression);
    }
    return text;
}

std::string GlslPrinter::expressionOf(NodeId id) {
    return graph_.isConstant(id) ? print(id) : text_[id];
}

std::string GlslPrinter::bare(const std::string& expression) {
    // Without the parentheses that enclose all of it.
    if (expression.size() < 2 || expression.front() != '(') {
        return expression;
    }
    int depth = 0;
    for (std::size_t i = 0; i + 1 < expression.size(); ++i) {
        depth += expression[i] == '(' ? 1 : expression[i] == ')' ? -1 : 0;
        if (depth == 0) {
            return expression;
        }
    }
    return expression.substr(1, expression.size() - 2);
}

std::vector<float> GlslPrinter::numbersOf(std::string& text) const {
    const std::string mark = id_ + "_number[";
    std::vector<float> read;
    for (std::size_t at = text.find(mark); at != std::string::npos; at = text.find(mark, at + 1)) {
        const std::size_t from = at + mark.size();
        const std::size_t length = text.find(']', from) - from;
        const std::string own = std::to_string(read.size());
        read.push_back(numbers_[std::stoul(text.substr(from, length))]);
        text.replace(from, length, own);
    }
    return read;
}

std::vector<int> GlslPrinter::usesOf(const std::vector<char>& needed) const {
    std::vector<int> uses(graph_.size(), 0);
    for (NodeId i = static_cast<NodeId>(graph_.size()); i-- > 0;) {
        // What stands for its operand is written again wherever it is used.
        const int times = graph_[i].op == Op::placeOnCircle ? std::max(uses[i], 1) : 1;
        for (std::size_t k = 0; needed[i] && k < graph_[i].operands; ++k) {
            uses[graph_[i].in[k]] += times;
        }
    }
    return uses;
}

std::string GlslPrinter::ofAngle(const char* function, NodeId place) {
    const NodeId at = graph_[place].op == Op::placeOnCircle ? graph_[place].in[0] : place;
    const Node& node = graph_[at];
    constexpr float kTau = 6.28318530717958647692f;
    if (node.op == Op::multiply && graph_.isConstant(node.in[0]) && text_[at].front() == '(') {
        return std::string(function) + "(" + number(kTau * graph_[node.in[0]].value.x) + " * " +
               expressionOf(node.in[1]) + ")";
    }
    return std::string(function) + "(6.2831855 * " + expressionOf(at) + ")";
}

std::string GlslPrinter::number(float value) {
    if (mode_ == Numbers::written) {
        const std::string text = base::floatLiteral(value);
        return text.front() == '-' ? "(" + text + ")" : text;
    }
    numbers_.push_back(value);
    return id_ + "_number[" + std::to_string(numbers_.size() - 1) + "]";
}

std::string GlslPrinter::print(NodeId id) {
    const Node& node = graph_[id];
    // Numbers are written anew at each use: two that happen to be equal must not make another text.
    const auto in = [&](std::size_t k) {
        return graph_.isConstant(node.in[k]) ? print(node.in[k]) : text_[node.in[k]];
    };
    const auto infix = [&](const char* sign) { return "(" + in(0) + " " + sign + " " + in(1) + ")"; };
    const auto call = [&](const std::string& function) {
        std::string text = function + "(";
        for (std::size_t k = 0; k < node.operands; ++k) {
            text += (k ? ", " : "") + bare(in(k));
        }
        return text + ")";
    };
    const auto noise = [&](int dimensions) {
        const motion::NoiseTile& tile = graph_.tiles()[static_cast<std::size_t>(node.whole)];
        std::string at = bare(in(0));
        if (dimensions > 1) {
            at = "vec" + std::to_string(dimensions) + "(" + at;
            for (int k = 1; k < dimensions; ++k) {
                at += ", " + bare(in(static_cast<std::size_t>(k)));
            }
            at += ")";
        }
        return id_ + "_noise" + std::to_string(dimensions) + "(" + at + ", " +
               number(static_cast<float>(tile.cells[0])) + ", " + std::to_string(tile.seed) + "u)";
    };
    switch (node.op) {
    case Op::turn:
        return "turn";
    case Op::constant:
        return number(node.value.x);
    case Op::constant3: {
        const std::string x = bare(number(node.value.x));
        const std::string y = bare(number(node.value.y));
        return "vec3(" + x + ", " + y + ", " + bare(number(node.value.z)) + ")";
    }
    case Op::uv:
        return inputOf(node, stored_).name + (node.whole % 2 ? ".y" : ".x");
    case Op::colour:
        return "vertex_colour." + std::string(1, kChannels[node.whole & 3]);
    case Op::copyX:
    case Op::copyY:
    case Op::copyZ:
        return "copy_axes[" + std::to_string(static_cast<int>(node.op) - static_cast<int>(Op::copyX)) + "]";
    case Op::add:
    case Op::laterTurn: {
        const Node& second = graph_[node.in[1]];
        if (second.op == Op::constant && second.value.x < 0.0f && mode_ == Numbers::written) {
            return "(" + in(0) + " - " + number(-second.value.x) + ")";
        }
        if (second.op == Op::negate && !text_[node.in[1]].empty() && text_[node.in[1]].front() == '(') {
            return "(" + in(0) + " - " + expressionOf(second.in[0]) + ")";
        }
        return infix("+");
    }
    case Op::add3:
        return infix("+");
    case Op::subtract:
    case Op::subtract3:
        return infix("-");
    case Op::multiply:
    case Op::scale3:
        return infix("*");
    case Op::divide:
        return infix("/");
    case Op::least: {
        const NodeId inner = node.in[0];
        if (clamped_[inner]) {
            return "clamp(" + bare(expressionOf(graph_[inner].in[0])) + ", " +
                   bare(number(graph_[graph_[inner].in[1]].value.x)) + ", " + bare(in(1)) + ")";
        }
        return call("min");
    }
    case Op::most:
        return call("max");
    case Op::negate:
    case Op::negate3:
        return "(-" + in(0) + ")";
    case Op::absolute:
        return call("abs");
    case Op::root:
        return call("sqrt");
    case Op::smooth:
        return "smoothstep(0.0, 1.0, " + bare(in(0)) + ")";
    case Op::select:
        return "(" + in(0) + " < " + in(1) + " ? " + in(2) + " : " + in(3) + ")";
    case Op::timesTurn:
        return "(" + number(static_cast<float>(node.whole)) + " * " + in(0) + ")";
    case Op::placeOnCircle:
        return in(0);
    case Op::sine:
        return ofAngle("sin", node.in[0]);
    case Op::cosine:
        return ofAngle("cos", node.in[0]);
    case Op::sinc:
        return call(id_ + "_sinc");
    case Op::fraction:
        return call("fract");
    case Op::dot:
        return call("dot");
    case Op::cross:
        return call("cross");
    case Op::compose:
        return call("vec3");
    case Op::x:
    case Op::y:
    case Op::z: {
        const char component = node.op == Op::x ? 'x' : node.op == Op::y ? 'y' : 'z';
        const Node& of = graph_[node.in[0]];
        // slope.xyz.x is slope.x
        return (of.op == Op::slopeOf ? expressionOf(of.in[0]) : in(0)) + "." + component;
    }
    case Op::unit3:
        return call(id_ + "_unit");
    case Op::noise1:
        return noise(1);
    case Op::noise2:
        return noise(2);
    case Op::noise3:
        return noise(3);
    case Op::curve:
        return call(id_ + "_curve" + std::to_string(node.whole));
    case Op::valueOf:
        return in(0) + ".w";
    case Op::slopeOf:
        return in(0) + ".xyz";
    default:
        return inputOf(node, stored_).name;
    }
}

} // namespace ripple::emit
