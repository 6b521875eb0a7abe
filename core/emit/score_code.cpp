#include "emit/score_code.h"

#include "base/version.h"
#include "emit/score_expressions.h"
#include "motion/velocity.h"

#include <algorithm>

namespace ripple::emit {

namespace {

using code::Base;
using code::Body;
using code::Function;
using code::Module;
using code::Remark;
using code::Value;
using motion::Graph;
using motion::NodeId;
using motion::Op;

/// What the function takes, each once, in the order in which the graph reads them.
std::vector<InputRow> inputsOf(const motion::Composition& composition, std::span<const NodeId> roots) {
    const Graph& graph = composition.graph;
    const std::vector<char> needed = graph.needed(roots);
    std::vector<InputRow> inputs;
    const auto take = [&](const motion::Node& node) {
        InputRow row = inputOf(node, composition.stored);
        const bool known = std::any_of(inputs.begin(), inputs.end(), [&](const InputRow& other) {
            return other.input.name == row.input.name;
        });
        if (!known) {
            inputs.push_back(std::move(row));
        }
    };
    motion::Node always;
    for (const Op op : {Op::position, Op::normal}) {
        always.op = op;
        take(always);
    }
    for (NodeId i = 0; i < graph.size(); ++i) {
        if (needed[i] && isInput(graph[i].op)) {
            take(graph[i]);
        }
    }
    return inputs;
}

Remark headOf(const Dialect& dialect, const std::string& name, const std::vector<InputRow>& inputs) {
    Remark head{
        {commentOf(name) + ": moves its vertices in the vertex stage.",
         std::string("Written by ") + base::generatorName() + ". " + dialect.about() + ".", "",
         "One trip round the loop per whole `turn`. It closes for every value; wrap it yourself (in double",
         "precision, or by restarting it) if the game runs for hours: large floats lose their fraction."}};
    for (const InputRow& row : inputs) {
        if (!row.input.words.empty()) {
            std::string padded = row.input.name;
            padded.resize(std::max<std::size_t>(padded.size() + 1, 16), ' ');
            head.lines.push_back("  " + padded + commentOf(row.input.words));
        }
    }
    return head;
}

void addBounds(Module& module, const mesh::Bounds& bounds) {
    module.add(code::Gap{});
    module.add(Remark{
        {"The mesh stays in this box throughout the loop, in its own space: what a renderer culls by."}});
    module.add(code::Constant{module.own("bounds_min"), code::vec3(bounds.min).expression()});
    module.add(code::Constant{module.own("bounds_max"), code::vec3(bounds.max).expression()});
}

/// The two functions of a score: they take the same and differ in what they give.
class Functions {
public:
    Functions(Module& module, const motion::Composition& composition, const ScoreCodeChoices& choices,
              const std::vector<InputRow>& inputs)
        : module_(module),
          composition_(composition),
          choices_(choices) {
        for (const InputRow& row : inputs) {
            parameters_.push_back({row.type, row.input.name});
        }
        parameters_.push_back({Base::scalar, "turn"});
    }

    void addMoved() {
        std::vector<NodeId> roots = {composition_.position, composition_.normal};
        if (composition_.uvShift) {
            roots.push_back(*composition_.uvShift);
        }
        const code::Type result = code::Type::of(module_.own("moved"));
        Body body;
        ScoreExpressions expressions(module_, composition_, choices_, wrapped(body));
        expressions.write(body, roots);
        const Value moved = body.variable("moved", result);
        body.assign(moved.field("position", Base::vec3), expressions.valueOf(composition_.position));
        body.assign(moved.field("normal", Base::vec3), expressions.valueOf(composition_.normal));
        if (composition_.uvShift) {
            body.assign(moved.field("uv_shift", Base::vec2), expressions.valueOf(*composition_.uvShift).xy());
        }
        body.giveBack(moved);
        module_.add(Function{{}, result, module_.own("at_turn"), parameters_, body.take()});
    }

    void addAlpha() {
        const NodeId roots[] = {*composition_.alpha};
        Body body;
        ScoreExpressions expressions(module_, composition_, choices_, wrapped(body));
        expressions.write(body, roots);
        body.giveBack(expressions.valueOf(*composition_.alpha));
        module_.add(Function{
            {"What the base texture's alpha is multiplied with; for the fragment stage, with rest_position",
             "and the others as they come from the vertex stage."},
            Base::scalar,
            module_.own("alpha"),
            parameters_,
            body.take()});
    }

    /// `velocity`: metres a turn.
    void addVelocity(NodeId velocity) {
        const NodeId roots[] = {velocity};
        Body body;
        ScoreExpressions expressions(module_, composition_, choices_, wrapped(body));
        expressions.write(body, roots);
        const Value seconds = code::named(module_.own("loop_seconds"), Base::scalar);
        body.giveBack(expressions.valueOf(velocity) / seconds);
        module_.add(
            Function{{"Metres a second in the mesh's own space, for a loop that plays at its own rate."},
                     Base::vec3,
                     module_.own("velocity_at_turn"),
                     parameters_,
                     body.take()});
    }

private:
    static Value wrapped(Body& body) {
        return body.fixed("in_loop", code::fraction(code::named("turn", Base::scalar)));
    }

    Module& module_;
    const motion::Composition& composition_;
    const ScoreCodeChoices& choices_;
    std::vector<code::Parameter> parameters_;
};

} // namespace

ScoreCode scoreCode(const Dialect& dialect, const std::string& name, const motion::Composition& composition,
                    const ScoreCodeChoices& choices) {
    std::vector<NodeId> roots = {composition.position, composition.normal};
    for (const auto& more : {composition.uvShift, composition.alpha}) {
        if (more) {
            roots.push_back(*more);
        }
    }
    // What the velocity is made of reads nothing that the position does not.
    const std::vector<InputRow> inputs = inputsOf(composition, roots);
    Module module{identifier(name), {}};
    module.add(headOf(dialect, name, inputs));
    module.add(code::Gap{});
    code::Record moved{module.own("moved"), {{Base::vec3, "position"}, {Base::vec3, "normal"}}};
    if (composition.uvShift) {
        moved.fields.push_back({Base::vec2, "uv_shift"});
    }
    module.add(moved);
    if (choices.numbers == Numbers::loose) {
        module.add(code::LooseNumbers{module.own("number")});
    }
    if (choices.bounds) {
        addBounds(module, *choices.bounds);
    }
    if (choices.loopSeconds) {
        module.add(code::Constant{module.own("loop_seconds"), Value(*choices.loopSeconds).expression()});
    }
    Functions functions(module, composition, choices, inputs);
    functions.addMoved();
    if (composition.alpha) {
        functions.addAlpha();
    }
    if (choices.loopSeconds) {
        motion::Composition moving = composition;
        const NodeId velocity = motion::addVelocity(moving);
        Functions(module, moving, choices, inputs).addVelocity(velocity);
    }
    Printed printed = dialect.print(module);
    ScoreCode made;
    made.code = std::move(printed.text);
    made.numbers = std::move(printed.numbers);
    made.shiftsUv = composition.uvShift.has_value();
    made.cutsOut = composition.alpha.has_value();
    for (const InputRow& row : inputs) {
        made.inputs.push_back(row.input);
        made.inputs.back().type = dialect.type(row.type);
    }
    return made;
}

} // namespace ripple::emit
