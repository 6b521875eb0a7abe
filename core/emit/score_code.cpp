#include "emit/score_code.h"

#include "base/units.h"
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

/// The names of the parameters, as code spells them.
std::vector<std::string> namesOf(const motion::Composition& composition) {
    std::vector<std::string> names;
    for (const motion::CodeParameter& parameter : composition.parameters) {
        requireParameterName(parameter.name, names);
        names.push_back(identifier(parameter.name));
    }
    return names;
}

/// ": How far it leans, degrees"
std::string wordsOf(const motion::CodeParameter& parameter) {
    const std::string both =
        parameter.help + (parameter.help.empty() || parameter.unit.empty() ? "" : ", ") + parameter.unit;
    return both.empty() ? "" : ": " + commentOf(both);
}

/// The record of the parameters, and a function that gives their defaults.
void addParameters(Module& module, const motion::Composition& composition) {
    const std::vector<std::string> names = namesOf(composition);
    const code::Type type = code::Type::of(module.own("parameters"));
    code::Record record{type.record, {}};
    Body body;
    const Value defaults = body.variable("defaults", type);
    Remark head{{"What may be changed while it plays, and how far; what lies beyond is held at the ends."}};
    for (std::size_t i = 0; i < names.size(); ++i) {
        const motion::CodeParameter& parameter = composition.parameters[i];
        const motion::LiveNumber& number = composition.graph.parameters()[i];
        const code::Type own = parameter.whole ? Base::whole : Base::scalar;
        record.fields.push_back({own, names[i]});
        const auto value = [&](float of) {
            return parameter.whole ? Value(static_cast<int>(of)) : Value(of);
        };
        body.assign(defaults.field(names[i], own), value(number.value));
        std::string padded = names[i];
        padded.resize(std::max<std::size_t>(padded.size() + 1, 16), ' ');
        head.lines.push_back("  " + padded + base::numberText(static_cast<double>(number.least)) + " to " +
                             base::numberText(static_cast<double>(number.most)) + wordsOf(parameter));
    }
    body.giveBack(defaults);
    module.add(std::move(head));
    module.add(std::move(record));
    module.add(
        Function{{"The parameters as the score has them."}, type, module.own("defaults"), {}, body.take()});
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
        if (choices.numbers == Numbers::written && !composition.parameters.empty()) {
            parameters_.push_back({code::Type::of(module.own("parameters")), "parameters"});
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
        body.assign(moved.field("position", Base::vec3),
                    placed(choices_.space, expressions.valueOf(composition_.position)));
        body.assign(moved.field("normal", Base::vec3),
                    turned(choices_.space, expressions.valueOf(composition_.normal)));
        if (composition_.uvShift) {
            body.assign(moved.field("uv_shift", Base::vec2),
                        shiftOf(expressions.valueOf(*composition_.uvShift)));
        }
        body.giveBack(moved);
        module_.add(Function{{}, result, module_.own("at_turn"), parameters_, body.take()});
    }

    /// What `what`_at_turn gives, by seconds.
    void addAtSeconds(const std::string& what, const code::Type& result, std::vector<std::string> comment) {
        std::vector<code::Parameter> taken = parameters_;
        taken.back() = {Base::scalar, "seconds"};
        std::vector<Value> handed = code::valuesOf(taken);
        handed.back() = handed.back() / code::named(module_.own("loop_seconds"), Base::scalar);
        Body body;
        body.giveBack(code::call(module_.own(what + "at_turn"), result, handed));
        module_.add(
            Function{std::move(comment), result, module_.own(what + "at_seconds"), taken, body.take()});
    }
    void addPoseAtSeconds() {
        addAtSeconds(
            "", code::Type::of(module_.own("moved")),
            {"Seconds since the loop began. Hand it seconds that are wrapped to the loop's length in "
             "double precision",
             "if the game runs for hours: see IMPORT.md for what large floats lose."});
    }

    void addAlpha() {
        addAlone(
            *composition_.alpha, Base::scalar, "alpha",
            {"What the base texture's alpha is multiplied with; for the fragment stage, with rest_position",
             "and the others as they come from the vertex stage."});
    }
    void addUvShift() {
        addAlone(
            *composition_.uvShift, Base::vec2, "uv_shift",
            {"What is added to the base texture's UV, by itself: for the fragment stage, where triangles are",
             "large. The vertex stage has it from " + module_.own("at_turn") + "."});
    }

    /// `velocity`: metres a turn.
    void addVelocity(NodeId velocity) {
        const NodeId roots[] = {velocity};
        Body body;
        ScoreExpressions expressions(module_, composition_, choices_, wrapped(body));
        expressions.write(body, roots);
        const Value seconds = code::named(module_.own("loop_seconds"), Base::scalar);
        body.giveBack(placed(choices_.space, expressions.valueOf(velocity)) / seconds);
        module_.add(
            Function{{"A second's way in the mesh's own space and unit, for a loop that plays at its own "
                      "rate."},
                     Base::vec3,
                     module_.own("velocity_at_turn"),
                     parameters_,
                     body.take()});
        addAtSeconds("velocity_", Base::vec3, {});
    }

private:
    /// One result that either stage may work out.
    void addAlone(NodeId root, const code::Type& type, const char* what, std::vector<std::string> comment) {
        const NodeId roots[] = {root};
        Body body;
        ScoreExpressions expressions(module_, composition_, choices_, wrapped(body));
        expressions.write(body, roots);
        const Value made = expressions.valueOf(root);
        body.giveBack(type == code::Type(Base::vec2) ? shiftOf(made) : made);
        module_.add(Function{std::move(comment), type, module_.own(what), parameters_, body.take()});
    }
    Value shiftOf(const Value& shift) const {
        return choices_.vFromBelow ? code::make(Base::vec2, {shift.x(), -shift.y()}) : shift.xy();
    }
    static Value wrapped(Body& body) {
        return body.fixed("in_loop", code::fraction(code::named("turn", Base::scalar)));
    }

    Module& module_;
    const motion::Composition& composition_;
    const ScoreCodeChoices& choices_;
    std::vector<code::Parameter> parameters_;
};

} // namespace

namespace {

int widthOf(const code::Type& type) {
    return type == code::Type(Base::vec2)   ? 2
           : type == code::Type(Base::vec3) ? 3
           : type == code::Type(Base::vec4) ? 4
                                            : 1;
}

/// What is handed from stage to stage; a texture coordinate is handed on in any case, and a shift is added to
/// it in the vertex stage.
EitherStage eitherStage(const motion::Composition& composition, NodeId root, int results) {
    EitherStage made;
    made.handedBefore = root == composition.uvShift ? 0 : results;
    const Graph& graph = composition.graph;
    const NodeId roots[] = {root};
    const std::vector<char> needed = graph.needed(roots);
    std::vector<std::string> names;
    for (NodeId i = 0; i < graph.size(); ++i) {
        const bool ofVertex = needed[i] && graph[i].op <= Op::storedSlope;
        if (!ofVertex) {
            continue;
        }
        const InputRow row = inputOf(graph[i], composition.stored);
        if (std::find(names.begin(), names.end(), row.input.name) == names.end()) {
            names.push_back(row.input.name);
            made.handedInputs += widthOf(row.type);
        }
    }
    return made;
}

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
    } else if (!composition.parameters.empty()) {
        addParameters(module, composition);
    }
    if (choices.bounds) {
        const motion::LoopBounds& bounds = *choices.bounds;
        addBounds(module, "bounds", choices.space.of(bounds.every), "throughout the loop");
        if (bounds.unturned != bounds.every) {
            addBounds(module, "unturned_bounds", choices.space.of(bounds.unturned),
                      "where it is neither turned nor scaled");
        }
    }
    if (choices.loopSeconds) {
        module.add(code::Constant{module.own("loop_seconds"), Value(*choices.loopSeconds).expression()});
    }
    Functions functions(module, composition, choices, inputs);
    functions.addMoved();
    if (choices.loopSeconds) {
        functions.addPoseAtSeconds();
    }
    if (composition.alpha) {
        functions.addAlpha();
    }
    if (composition.uvShift && choices.numbers == Numbers::written) {
        functions.addUvShift();
    }
    if (choices.loopSeconds) {
        motion::Composition moving = composition;
        const NodeId velocity = motion::addVelocity(moving);
        Functions(module, moving, choices, inputs).addVelocity(velocity);
    }
    Printed printed = dialect.print(module);
    if (composition.halves) {
        printed.text.insert(0, dialect.halfDirective());
    }
    ScoreCode made;
    made.cost = code::costOf(module, module.own("at_turn"));
    made.velocityCost = code::costOf(module, module.own("velocity_at_turn"));
    if (composition.uvShift) {
        made.uvShift = eitherStage(composition, *composition.uvShift, 2);
        made.uvShift->cost = code::costOf(module, module.own("uv_shift"));
    }
    if (composition.alpha) {
        made.alpha = eitherStage(composition, *composition.alpha, 1);
        made.alpha->cost = code::costOf(module, module.own("alpha"));
    }
    made.code = std::move(printed.text);
    made.numbers = std::move(printed.numbers);
    for (const InputRow& row : inputs) {
        made.inputs.push_back(row.input);
        made.inputs.back().type = dialect.type(row.type);
    }
    return made;
}

} // namespace ripple::emit
