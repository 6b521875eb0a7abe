#include "emit/dialect.h"

#include <algorithm>
#include <utility>

namespace ripple::emit {

using code::Op;

std::string Dialect::argumentsOf(const VertexStage& stage) const {
    Arguments handed;
    for (const std::string& argument : stage.arguments) {
        const bool texture =
            std::find(stage.textures.begin(), stage.textures.end(), argument) != stage.textures.end();
        handed.push_back(texture ? textureArgument(argument) : argument);
    }
    handed.push_back(stage.clock);
    return listed(handed);
}

std::string Dialect::listed(const Arguments& parts) {
    std::string text;
    for (const std::string& part : parts) {
        text += (text.empty() ? "" : ", ") + part;
    }
    return text;
}

std::string Dialect::type(const code::Type& type) const {
    const TypeNames names = typeNames();
    switch (type.base) {
    case code::Base::boolean:
        return names.boolean;
    case code::Base::whole:
        return names.whole;
    case code::Base::natural:
        return names.natural;
    case code::Base::scalar:
        return names.scalar;
    case code::Base::half:
        return names.half;
    case code::Base::half3:
        return names.half3;
    case code::Base::vec2:
        return names.vec2;
    case code::Base::vec3:
        return names.vec3;
    case code::Base::vec4:
        return names.vec4;
    case code::Base::mat3:
        return names.mat3;
    case code::Base::texture:
        return names.texture;
    case code::Base::record:
        break;
    }
    return names.record + type.record;
}

std::string Dialect::function(Op op) const {
    static constexpr std::pair<Op, const char*> kNames[] = {{Op::absolute, "abs"},
                                                            {Op::clamp, "clamp"},
                                                            {Op::cosine, "cos"},
                                                            {Op::cross, "cross"},
                                                            {Op::dot, "dot"},
                                                            {Op::floor, "floor"},
                                                            {Op::fraction, "fract"},
                                                            {Op::inverseRoot, "inversesqrt"},
                                                            {Op::least, "min"},
                                                            {Op::mix, "mix"},
                                                            {Op::most, "max"},
                                                            {Op::normalize, "normalize"},
                                                            {Op::root, "sqrt"},
                                                            {Op::sine, "sin"},
                                                            {Op::smoothstep, "smoothstep"},
                                                            {Op::step, "step"}};
    const auto found =
        std::find_if(std::begin(kNames), std::end(kNames), [op](const auto& row) { return row.first == op; });
    return found == std::end(kNames) ? std::string() : found->second;
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

std::string Dialect::wrapped(const Arguments& values) {
    std::string text;
    for (std::size_t i = 0; i < values.size(); ++i) {
        text += (i == 0 ? "" : i % 12 == 0 ? ",\n    " : ", ") + values[i];
    }
    return text;
}

std::string Dialect::constantList(const std::string& name, const Arguments& values) const {
    const std::string scalar = type(code::Base::scalar);
    const std::string size = "[" + std::to_string(values.size()) + "]";
    return "const " + scalar + " " + name + size + " = " + scalar + size + "(" + wrapped(values) + ");";
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
