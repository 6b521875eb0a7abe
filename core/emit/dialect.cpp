#include "emit/dialect.h"

#include "base/units.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <optional>

namespace ripple::emit {

using code::Expression;
using code::ExpressionPtr;
using code::Op;
using code::Statement;

namespace {

/// How tightly an expression holds together: looser ones need parentheses inside tighter ones.
enum Binding { choosing, logical, equality, relation, bits, addition, multiplication, atom };

struct Infix {
    Op op;
    const char* sign;
    Binding binding;
};

// The precedence that the languages share. Between shifts and the operations on bits they differ: there
// operands are always in parentheses.
constexpr Infix kInfix[] = {
    {Op::multiply, "*", multiplication},
    {Op::divide, "/", multiplication},
    {Op::remainder, "%", multiplication},
    {Op::add, "+", addition},
    {Op::subtract, "-", addition},
    {Op::shiftRight, ">>", bits},
    {Op::bitAnd, "&", bits},
    {Op::bitXor, "^", bits},
    {Op::less, "<", relation},
    {Op::atMost, "<=", relation},
    {Op::more, ">", relation},
    {Op::atLeast, ">=", relation},
    {Op::equal, "==", equality},
    {Op::both, "&&", logical},
};

const Infix* infixOf(Op op) {
    const auto* found =
        std::find_if(std::begin(kInfix), std::end(kInfix), [op](const Infix& i) { return i.op == op; });
    return found == std::end(kInfix) ? nullptr : found;
}

Binding bindingOf(const Expression& e) {
    if (const Infix* infix = infixOf(e.op)) {
        return infix->binding;
    }
    if (e.op == Op::choose) {
        return choosing;
    }
    // A sign holds no tighter than a sum, so that no two signs meet.
    const bool negative = (e.op == Op::number && e.number < 0.0f) || (e.op == Op::whole && e.count < 0);
    return negative || e.op == Op::negate ? addition : atom;
}

/// Large ones are patterns of bits.
std::string naturalText(std::int64_t value) {
    if (value < 0x10000) {
        return std::to_string(value) + "u";
    }
    std::array<char, 16> digits{};
    const auto end = std::to_chars(digits.data(), digits.data() + digits.size(), value, 16);
    return "0x" + std::string(digits.data(), end.ptr) + "u";
}

std::string commentLines(const std::vector<std::string>& lines, const std::string& before = {}) {
    std::string text;
    for (const std::string& line : lines) {
        text += before + (line.empty() ? "//" : "// " + line) + "\n";
    }
    return text;
}

} // namespace

/// Prints one module, and collects the numbers that stay out of its text.
class Dialect::Writer {
public:
    explicit Writer(const Dialect& dialect, std::string loose = {})
        : dialect_(dialect),
          loose_(std::move(loose)) {}

    const std::vector<float>& numbers() const { return numbers_; }

    std::string print(const ExpressionPtr& expression) {
        const Expression& e = *expression;
        if (const Infix* infix = infixOf(e.op)) {
            return operand(e.in[0], infix->binding, false) + " " + infix->sign + " " +
                   operand(e.in[1], infix->binding, true);
        }
        switch (e.op) {
        case Op::number:
            return base::floatLiteral(e.number);
        case Op::loose:
            numbers_.push_back(e.number);
            return loose_ + "[" + std::to_string(numbers_.size() - 1) + "]";
        case Op::whole:
            return std::to_string(e.count);
        case Op::natural:
            return naturalText(e.count);
        case Op::truth:
            return e.count ? "true" : "false";
        case Op::name:
            return e.text;
        case Op::negate:
            return "-" + operand(e.in[0], multiplication, true);
        case Op::member:
            return operand(e.in[0], atom, false) + "." + e.text;
        case Op::element:
            return operand(e.in[0], atom, false) + "[" + print(e.in[1]) + "]";
        case Op::column:
            return dialect_.column(operand(e.in[0], atom, false), e.count);
        case Op::choose: {
            Arguments in;
            for (const ExpressionPtr& part : e.in) {
                in.push_back(operand(part, choosing, true));
            }
            return dialect_.choose(in);
        }
        case Op::modulo: {
            Arguments in;
            for (const ExpressionPtr& part : e.in) {
                in.push_back(operand(part, multiplication, true));
            }
            return dialect_.modulo(in);
        }
        case Op::call:
            return e.text + "(" + listed(handedOn(e)) + ")";
        case Op::make:
            return dialect_.make(e.type, arguments(e));
        case Op::sample:
            return dialect_.sample(arguments(e));
        case Op::fetch:
            return dialect_.fetch(arguments(e));
        case Op::smoothstep:
            return dialect_.function(e.op) + "(0.0, 1.0, " + print(e.in[0]) + ")";
        case Op::multiply:
        case Op::divide:
        case Op::remainder:
        case Op::add:
        case Op::subtract:
        case Op::shiftRight:
        case Op::bitAnd:
        case Op::bitXor:
        case Op::less:
        case Op::atMost:
        case Op::more:
        case Op::atLeast:
        case Op::equal:
        case Op::both:
            break; // infix, above
        case Op::absolute:
        case Op::clamp:
        case Op::cosine:
        case Op::cross:
        case Op::dot:
        case Op::floor:
        case Op::fraction:
        case Op::inverseRoot:
        case Op::least:
        case Op::mix:
        case Op::most:
        case Op::normalize:
        case Op::root:
        case Op::sine:
        case Op::step:
            break;
        }
        return dialect_.function(e.op) + "(" + listed(alike(e)) + ")";
    }

    std::string print(const code::Function& function) {
        Arguments parameters;
        for (const code::Parameter& parameter : function.parameters) {
            parameters.push_back(dialect_.parameter(parameter));
        }
        return commentLines(function.comment) + dialect_.signature(function, listed(parameters)) + "\n{\n" +
               print(function.body, "    ") + "}\n";
    }

private:
    std::string operand(const ExpressionPtr& expression, Binding around, bool second) {
        const Binding own = bindingOf(*expression);
        if (!second && around < atom && (expression->op == Op::number || expression->op == Op::whole)) {
            return print(expression); // a sign that begins a product or a sum
        }
        const bool loose =
            own < around || (own == around && (second || own == bits)) || (around == bits && own < atom);
        return loose ? "(" + print(expression) + ")" : print(expression);
    }

    Arguments arguments(const Expression& e) {
        Arguments in;
        for (const ExpressionPtr& part : e.in) {
            in.push_back(print(part));
        }
        return in;
    }

    /// Of a call: textures bring their samplers.
    Arguments handedOn(const Expression& e) {
        Arguments in = arguments(e);
        for (std::size_t i = 0; i < in.size(); ++i) {
            if (e.in[i]->type == code::Type(code::Base::texture)) {
                in[i] = dialect_.textureArgument(in[i]);
            }
        }
        return in;
    }

    /// Of a function that takes operands of one type.
    Arguments alike(const Expression& e) {
        Arguments in = arguments(e);
        const bool mixed = e.type.isVector() && !dialect_.broadcasts() && e.op != Op::mix;
        for (std::size_t i = 0; i < in.size(); ++i) {
            if (mixed && e.in[i]->type == code::Type(code::Base::scalar)) {
                in[i] = dialect_.make(e.type, {in[i]});
            }
        }
        return in;
    }

    std::string print(const std::vector<Statement>& statements, const std::string& before) {
        std::string text;
        for (const Statement& statement : statements) {
            text += before + print(statement, before) + "\n";
        }
        return text;
    }

    std::string block(const std::vector<Statement>& statements, const std::string& before) {
        return " {\n" + print(statements, before + "    ") + before + "}";
    }

    std::string print(const Statement& s, const std::string& before) {
        switch (s.kind) {
        case Statement::Kind::comment:
            return "// " + s.text;
        case Statement::Kind::fixed:
        case Statement::Kind::variable:
            return dialect_.local(s.type, s.text, s.value ? print(s.value) : std::string(),
                                  s.kind == Statement::Kind::variable) +
                   ";";
        case Statement::Kind::assign:
            return print(s.target) + " = " + print(s.value) + ";";
        case Statement::Kind::increase:
            return print(s.target) + " += " + print(s.value) + ";";
        case Statement::Kind::giveBack:
            return "return " + print(s.value) + ";" + (s.text.empty() ? "" : " // " + s.text);
        case Statement::Kind::branch:
            if (s.body.size() == 1 && s.otherwise.empty() && s.body[0].kind == Statement::Kind::giveBack) {
                return "if (" + print(s.value) + ") { return " + print(s.body[0].value) + "; }" +
                       (s.body[0].text.empty() ? "" : " // " + s.body[0].text);
            }
            return "if (" + print(s.value) + ")" + block(s.body, before) +
                   (s.otherwise.empty() ? "" : " else" + block(s.otherwise, before));
        case Statement::Kind::repeat:
            return "while (" + print(s.value) + ")" + block(s.body, before);
        case Statement::Kind::count: {
            const std::string begin = dialect_.local(s.type, s.text, print(s.target), true);
            return "for (" + begin + "; " + print(s.value) + "; " + s.text +
                   (s.step == 1 ? std::string("++") : " += " + std::to_string(s.step)) + ")" +
                   block(s.body, before);
        }
        }
        return {};
    }

    const Dialect& dialect_;
    std::string loose_;
    std::vector<float> numbers_;
};

Printed Dialect::print(const code::Module& module) const {
    std::string loose;
    for (const code::Item& item : module.items) {
        if (const auto* numbers = std::get_if<code::LooseNumbers>(&item)) {
            loose = numbers->name;
        }
    }
    Writer writer(*this, loose);
    std::vector<std::string> parts;
    std::optional<std::size_t> declared; // the array's size is known at the end
    for (const code::Item& item : module.items) {
        std::string text;
        if (const auto* remark = std::get_if<code::Remark>(&item)) {
            text = commentLines(remark->lines);
        } else if (std::holds_alternative<code::Gap>(item)) {
            text = "\n";
        } else if (const auto* own = std::get_if<code::Record>(&item)) {
            text = record(*own) + "\n";
        } else if (const auto* fixed = std::get_if<code::Constant>(&item)) {
            text = constant(fixed->value->type, fixed->name, writer.print(fixed->value)) + "\n";
        } else if (const auto* list = std::get_if<code::ConstantList>(&item)) {
            Arguments values;
            for (const float value : list->values) {
                values.push_back(base::floatLiteral(value));
            }
            text = constantList(list->name, values) + "\n";
        } else if (const auto* made = std::get_if<code::Function>(&item)) {
            text = "\n" + writer.print(*made);
        } else {
            declared = parts.size();
        }
        parts.push_back(std::move(text));
    }
    if (declared && !writer.numbers().empty()) {
        parts[*declared] = looseNumbers(loose, writer.numbers().size()) + "\n";
    }
    Printed printed;
    for (const std::string& part : parts) {
        printed.text += part;
    }
    printed.numbers = writer.numbers();
    return printed;
}

std::string Dialect::expression(const ExpressionPtr& expression) const {
    return Writer(*this).print(expression);
}

} // namespace ripple::emit
