#include "emit/glsl_score.h"

#include "base/units.h"
#include "base/version.h"
#include "emit/fill.h"
#include "emit/glsl_reader.h"
#include "emit/glsl_score_templates.h"

#include <algorithm>

namespace ripple::emit {

namespace {

using motion::Graph;
using motion::Node;
using motion::NodeId;
using motion::Op;
using motion::Type;

const char* const kChannels = "rgba";

/// The parameter that an op reads; ops that are parts of the same one give the same name.
ScoreInput inputOf(const Node& node, const std::vector<std::string>& stored) {
    const std::string set = std::to_string(node.whole / 2);
    const std::string channel(1, kChannels[node.whole & 3]);
    const auto name = [&] { return identifier(stored[static_cast<std::size_t>(node.whole)]); };
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

std::string glslType(Type type) {
    return type == Type::vec3 ? "vec3" : type == Type::slope ? "vec4" : "float";
}

/// Prints expressions of a graph, one function body at a time.
class Printer {
public:
    Printer(std::string id, const Graph& graph, std::vector<std::string> stored, Numbers numbers)
        : id_(std::move(id)),
          graph_(graph),
          stored_(std::move(stored)),
          mode_(numbers) {}

    /// Statements that make `roots`; their values are then in expressionOf().
    std::string statements(std::span<const NodeId> roots) {
        const std::vector<char> needed = graph_.needed(roots);
        std::vector<int> uses(graph_.size(), 0);
        for (NodeId i = 0; i < graph_.size(); ++i) {
            for (std::size_t k = 0; needed[i] && k < graph_[i].operands; ++k) {
                ++uses[graph_[i].in[k]];
            }
        }
        std::string text;
        text_.assign(graph_.size(), {});
        for (NodeId i = 0; i < graph_.size(); ++i) {
            if (!needed[i]) {
                continue;
            }
            if (graph_.isConstant(i)) {
                continue;
            }
            std::string expression = print(i);
            const Op op = graph_[i].op;
            const bool plain = isInput(op) || op == Op::turn || op == Op::placeOnCircle || op == Op::x ||
                               op == Op::y || op == Op::z || op == Op::valueOf || op == Op::slopeOf;
            if (uses[i] > 1 && !plain) {
                const std::string name = "n" + std::to_string(++names_);
                text += "    " + glslType(graph_.typeOf(i)) + " " + name + " = " + bare(expression) + ";\n";
                expression = name;
            }
            text_[i] = std::move(expression);
        }
        return text;
    }
    std::string expressionOf(NodeId id) { return graph_.isConstant(id) ? print(id) : text_[id]; }
    static std::string bare(const std::string& expression) {
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
    const std::vector<float>& numbers() const { return numbers_; }

private:
    std::string number(float value) {
        if (mode_ == Numbers::written) {
            const std::string text = base::floatLiteral(value);
            return text.front() == '-' ? "(" + text + ")" : text;
        }
        numbers_.push_back(value);
        return id_ + "_number[" + std::to_string(numbers_.size() - 1) + "]";
    }

    std::string print(NodeId id) {
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
            return "copy_axes[" + std::to_string(static_cast<int>(node.op) - static_cast<int>(Op::copyX)) +
                   "]";
        case Op::add:
        case Op::add3:
        case Op::laterTurn:
            return infix("+");
        case Op::subtract:
        case Op::subtract3:
            return infix("-");
        case Op::multiply:
        case Op::scale3:
            return infix("*");
        case Op::divide:
            return infix("/");
        case Op::least:
            return call("min");
        case Op::most:
            return call("max");
        case Op::negate:
        case Op::negate3:
            return "(-" + in(0) + ")";
        case Op::absolute:
            return call("abs");
        case Op::root:
            return call("sqrt");
        case Op::select:
            return "(" + in(0) + " < " + in(1) + " ? " + in(2) + " : " + in(3) + ")";
        case Op::timesTurn:
            return "(" + number(static_cast<float>(node.whole)) + " * " + in(0) + ")";
        case Op::placeOnCircle:
            return in(0);
        case Op::sine:
            return "sin(6.2831855 * " + in(0) + ")";
        case Op::cosine:
            return "cos(6.2831855 * " + in(0) + ")";
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
            return in(0) + ".x";
        case Op::y:
            return in(0) + ".y";
        case Op::z:
            return in(0) + ".z";
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

    std::string id_;
    const Graph& graph_;
    std::vector<std::string> stored_;
    Numbers mode_;
    std::vector<std::string> text_;
    std::vector<float> numbers_;
    int names_ = 0;
};

std::string helpers(const Graph& graph, const std::vector<char>& needed, const std::string& id) {
    const auto uses = [&](Op op) {
        for (NodeId i = 0; i < graph.size(); ++i) {
            if (needed[i] && graph[i].op == op) {
                return true;
            }
        }
        return false;
    };
    std::string text;
    if (uses(Op::unit3)) {
        text += kUnit;
    }
    if (uses(Op::sinc)) {
        text += kSinc;
    }
    if (uses(Op::noise1) || uses(Op::noise2) || uses(Op::noise3)) {
        text += kNoise;
    }
    for (const auto& [op, function] :
         {std::pair(Op::noise1, kNoise1), std::pair(Op::noise2, kNoise2), std::pair(Op::noise3, kNoise3)}) {
        text += uses(op) ? std::string(function) : std::string();
    }
    for (std::size_t c = 0; c < graph.curves().size(); ++c) {
        std::string values;
        for (const float value : graph.curves()[c]) {
            values += (values.empty() ? "" : ", ") + base::floatLiteral(value);
        }
        text += fill(std::string(kCurve), {{"index", std::to_string(c)},
                                           {"count", std::to_string(graph.curves()[c].size())},
                                           {"values", values}});
    }
    return fill(text, {{"id", id}});
}

} // namespace

namespace {

std::string boundsText(const std::string& id, const mesh::Bounds& bounds) {
    const auto constant = [&](const char* end, const glm::vec3& v) {
        return "const vec3 " + id + "_bounds_" + end + " = vec3(" + base::floatLiteral(v.x) + ", " +
               base::floatLiteral(v.y) + ", " + base::floatLiteral(v.z) + ");\n";
    };
    return "\n// The mesh stays in this box throughout the loop, in its own space: what a renderer culls "
           "by.\n" +
           constant("min", bounds.min) + constant("max", bounds.max);
}

} // namespace

ScoreCode glslScore(const std::string& name, const motion::Composition& composition, Numbers numbers,
                    const std::optional<mesh::Bounds>& bounds) {
    const std::string id = identifier(name);
    const Graph& graph = composition.graph;
    ScoreCode made;
    made.shiftsUv = composition.uvShift.has_value();
    made.cutsOut = composition.alpha.has_value();
    std::vector<NodeId> moved = {composition.position, composition.normal};
    if (composition.uvShift) {
        moved.push_back(*composition.uvShift);
    }
    std::vector<NodeId> all = moved;
    if (composition.alpha) {
        all.push_back(*composition.alpha);
    }
    const std::vector<char> needed = graph.needed(all);
    std::string parameters;
    std::string described;
    const auto take = [&](ScoreInput input) {
        const bool known = std::any_of(made.inputs.begin(), made.inputs.end(),
                                       [&](const ScoreInput& other) { return other.name == input.name; });
        if (!known) {
            parameters += input.type + " " + input.name + ", ";
            std::string padded = input.name;
            padded.resize(std::max<std::size_t>(padded.size() + 1, 16), ' ');
            described += input.words.empty() ? "" : "//   " + padded + input.words + "\n";
            made.inputs.push_back(std::move(input));
        }
    };
    take({Op::position, 0, "vec3", "rest_position", "the mesh as imported, in its own space"});
    take({Op::normal, 0, "vec3", "rest_normal", ""});
    for (NodeId i = 0; i < graph.size(); ++i) {
        if (needed[i] && isInput(graph[i].op)) {
            take(inputOf(graph[i], composition.stored));
        }
    }
    Printer printer(id, graph, composition.stored, numbers);
    std::string body = printer.statements(moved);
    body += "    " + id + "_moved moved;\n    moved.position = " +
            Printer::bare(printer.expressionOf(composition.position)) +
            ";\n    moved.normal = " + Printer::bare(printer.expressionOf(composition.normal)) + ";\n";
    if (composition.uvShift) {
        body += "    moved.uv_shift = " + printer.expressionOf(*composition.uvShift) + ".xy;\n";
    }
    std::string alpha;
    if (composition.alpha) {
        const NodeId roots[] = {*composition.alpha};
        alpha = printer.statements(roots);
        alpha = "\n// What the base texture's alpha is multiplied with; for the fragment stage, with "
                "rest_position\n"
                "// and the others as they come from the vertex stage.\nfloat " +
                id + "_alpha(" + parameters + "float turn)\n{\n    turn = fract(turn);\n" + alpha +
                "    return " + Printer::bare(printer.expressionOf(*composition.alpha)) + ";\n}\n";
    }
    made.numbers = printer.numbers();
    made.code =
        "// " + name + ": moves its vertices in the vertex stage.\n// Written by " + base::generatorName() +
        ". GLSL 3.30 and later, or ES 3.00.\n//\n// One trip round the loop per whole `turn`. It closes "
        "for every value; wrap it yourself (in double\n// precision, or by restarting it) if the game "
        "runs for hours: large floats lose their fraction.\n" +
        described + "\nstruct " + id + "_moved { vec3 position; vec3 normal;" +
        (made.shiftsUv ? " vec2 uv_shift;" : "") + " };\n";
    if (numbers == Numbers::loose && !made.numbers.empty()) {
        made.code += "uniform float " + id + "_number[" + std::to_string(made.numbers.size()) + "];\n";
    }
    made.code += bounds ? boundsText(id, *bounds) : std::string();
    made.code += helpers(graph, needed, id) + "\n" + id + "_moved " + id + "_at_turn(" + parameters +
                 "float turn)\n{\n    turn = fract(turn);\n" + body + "    return moved;\n}\n" + alpha;
    return made;
}

} // namespace ripple::emit
