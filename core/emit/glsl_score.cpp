#include "emit/glsl_score.h"

#include "base/units.h"
#include "base/version.h"
#include "emit/fill.h"
#include "emit/glsl_printer.h"
#include "emit/glsl_reader.h"
#include "emit/glsl_score_templates.h"

#include <algorithm>

namespace ripple::emit {

namespace {

using motion::Graph;
using motion::NodeId;
using motion::Op;

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
            described += input.words.empty() ? "" : "//   " + padded + commentOf(input.words) + "\n";
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
    GlslPrinter printer(id, composition, numbers);
    std::string body = printer.statements(moved);
    body += "    " + id + "_moved moved;\n    moved.position = " +
            GlslPrinter::bare(printer.expressionOf(composition.position)) +
            ";\n    moved.normal = " + GlslPrinter::bare(printer.expressionOf(composition.normal)) + ";\n";
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
                "    return " + GlslPrinter::bare(printer.expressionOf(*composition.alpha)) + ";\n}\n";
    }
    std::string functions = id + "_moved " + id + "_at_turn(" + parameters +
                            "float turn)\n{\n    turn = fract(turn);\n" + body + "    return moved;\n}\n" +
                            alpha;
    made.numbers = printer.numbersOf(functions);
    made.code =
        "// " + commentOf(name) + ": moves its vertices in the vertex stage.\n// Written by " +
        base::generatorName() +
        ". GLSL 3.30 and later, or ES 3.00.\n//\n// One trip round the loop per whole `turn`. It closes "
        "for every value; wrap it yourself (in double\n// precision, or by restarting it) if the game "
        "runs for hours: large floats lose their fraction.\n" +
        described + "\nstruct " + id + "_moved { vec3 position; vec3 normal;" +
        (made.shiftsUv ? " vec2 uv_shift;" : "") + " };\n";
    if (numbers == Numbers::loose && !made.numbers.empty()) {
        made.code += "uniform float " + id + "_number[" + std::to_string(made.numbers.size()) + "];\n";
    }
    made.code += bounds ? boundsText(id, *bounds) : std::string();
    made.code += helpers(graph, needed, id) + "\n" + functions;
    return made;
}

} // namespace ripple::emit
