#include "emit/dialect.h"

namespace ripple::emit {

namespace {

class Wgsl : public Dialect {
public:
    const char* id() const override { return "wgsl"; }
    const char* about() const override { return "WGSL"; }

protected:
    TypeNames typeNames() const override {
        return {"bool",           "i32", "u32", "f32", "vec2<f32>", "vec3<f32>", "vec4<f32>", "mat3x3<f32>",
                "texture_2d<f32>"};
    }
    std::string function(code::Op op) const override {
        return op == code::Op::inverseRoot ? "inverseSqrt" : Dialect::function(op);
    }
    std::string sample(const Arguments& in) const override {
        return "textureSampleLevel(" + textureArgument(in[0]) + ", " + in[1] + ", 0.0)";
    }
    std::string fetch(const Arguments& in) const override {
        return "textureLoad(" + in[0] + ", vec2<i32>(" + in[1] + ", " + in[2] + "), 0)";
    }
    std::string modulo(const Arguments& in) const override {
        return "(" + Dialect::modulo(in) + ")"; // it is an operator here
    }
    std::string choose(const Arguments& in) const override {
        return "select(" + in[2] + ", " + in[1] + ", " + in[0] + ")";
    }
    std::string parameter(const code::Parameter& parameter) const override {
        const std::string own = field(parameter);
        return parameter.type == code::Type(code::Base::texture)
                   ? own + ", " + parameter.name + "_sampler: sampler"
                   : own;
    }
    std::string textureArgument(const std::string& name) const override {
        return name + ", " + name + "_sampler";
    }
    bool broadcasts() const override { return false; }
    std::string record(const code::Record& record) const override {
        Arguments fields;
        for (const code::Parameter& each : record.fields) {
            fields.push_back(field(each));
        }
        return "struct " + record.name + " { " + listed(fields) + " }";
    }
    std::string constant(const code::Type& of, const std::string& name,
                         const std::string& value) const override {
        return "const " + name + ": " + type(of) + " = " + value + ";";
    }
    std::string constantList(const std::string& name, const Arguments& values) const override {
        const std::string list = "array<f32, " + std::to_string(values.size()) + ">";
        return "const " + name + ": " + list + " = " + list + "(" + wrapped(values) + ");";
    }
    std::string signature(const code::Function& function, const std::string& parameters) const override {
        return "fn " + function.name + "(" + parameters + ") -> " + type(function.result);
    }
    std::string local(const code::Type& of, const std::string& name, const std::string& value,
                      bool changes) const override {
        return (changes ? "var " : "let ") + name + ": " + type(of) + (value.empty() ? "" : " = " + value);
    }

private:
    std::string field(const code::Parameter& of) const { return of.name + ": " + type(of.type); }
};

} // namespace

const Dialect& wgsl() {
    static const Wgsl kWgsl;
    return kWgsl;
}

const std::vector<const Dialect*>& dialects() {
    static const std::vector<const Dialect*> kAll = {&glsl(), &hlsl(), &wgsl()};
    return kAll;
}

const Dialect* dialectByName(const std::string& id) {
    for (const Dialect* dialect : dialects()) {
        if (id == dialect->id()) {
            return dialect;
        }
    }
    return nullptr;
}

} // namespace ripple::emit
