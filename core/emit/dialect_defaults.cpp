#include "emit/dialect.h"

namespace ripple::emit {

using code::Op;

std::string Dialect::listed(const Arguments& parts) {
    std::string text;
    for (const std::string& part : parts) {
        text += (text.empty() ? "" : ", ") + part;
    }
    return text;
}

std::string Dialect::function(Op op) const {
    switch (op) {
    case Op::absolute:
        return "abs";
    case Op::clamp:
        return "clamp";
    case Op::cosine:
        return "cos";
    case Op::cross:
        return "cross";
    case Op::dot:
        return "dot";
    case Op::floor:
        return "floor";
    case Op::fraction:
        return "fract";
    case Op::inverseRoot:
        return "inversesqrt";
    case Op::least:
        return "min";
    case Op::mix:
        return "mix";
    case Op::most:
        return "max";
    case Op::normalize:
        return "normalize";
    case Op::root:
        return "sqrt";
    case Op::sine:
        return "sin";
    case Op::smoothstep:
        return "smoothstep";
    case Op::step:
        return "step";
    case Op::number:
    case Op::loose:
    case Op::whole:
    case Op::natural:
    case Op::truth:
    case Op::name:
    case Op::call:
    case Op::make:
    case Op::member:
    case Op::element:
    case Op::column:
    case Op::sample:
    case Op::fetch:
    case Op::choose:
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
    case Op::negate:
    case Op::modulo:
        break;
    }
    return {}; // no function
}

std::string Dialect::make(const code::Type& made, const Arguments& in) const {
    return type(made) + "(" + listed(in) + ")";
}

std::string Dialect::modulo(const Arguments& in) const {
    return in[0] + " % " + in[1];
}

std::string Dialect::choose(const Arguments& in) const {
    return in[0] + " ? " + in[1] + " : " + in[2];
}

std::string Dialect::column(const std::string& matrix, std::int64_t which) const {
    return matrix + "[" + std::to_string(which) + "]";
}

std::string Dialect::parameter(const code::Parameter& parameter) const {
    return type(parameter.type) + " " + parameter.name;
}

std::string Dialect::record(const code::Record& record) const {
    std::string text = "struct " + record.name + " {";
    for (const code::Parameter& field : record.fields) {
        text += " " + type(field.type) + " " + field.name + ";";
    }
    return text + " };";
}

std::string Dialect::constant(const code::Type& of, const std::string& name, const std::string& value) const {
    return "const " + type(of) + " " + name + " = " + value + ";";
}

std::string Dialect::constantList(const std::string& name, const Arguments& values) const {
    const std::string scalar = type(code::Base::scalar);
    const std::string size = "[" + std::to_string(values.size()) + "]";
    std::string text = "const " + scalar + " " + name + size + " = " + scalar + size + "(";
    for (std::size_t i = 0; i < values.size(); ++i) {
        text += (i == 0 ? "" : i % 12 == 0 ? ",\n    " : ", ") + values[i];
    }
    return text + ");";
}

std::string Dialect::looseNumbers(const std::string& name, std::size_t count) const {
    return "uniform " + type(code::Base::scalar) + " " + name + "[" + std::to_string(count) + "];";
}

std::string Dialect::signature(const code::Function& function, const std::string& parameters) const {
    return type(function.result) + " " + function.name + "(" + parameters + ")";
}

std::string Dialect::local(const code::Type& of, const std::string& name, const std::string& value,
                           bool) const {
    return type(of) + " " + name + (value.empty() ? "" : " = " + value);
}

} // namespace ripple::emit
