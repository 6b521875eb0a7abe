#include "emit/dialect.h"

namespace ripple::emit {

namespace {

class Hlsl : public Dialect {
public:
    const char* id() const override { return "hlsl"; }
    const char* about() const override { return "HLSL, shader model 5 and later"; }

protected:
    TypeNames typeNames() const override {
        return {"bool",
                "int",
                "uint",
                "float",
                "float2",
                "float3",
                "float4",
                "float3x3", // whose element [i] is a row, where others have a column
                "Texture2D<float4>"};
    }
    std::string function(code::Op op) const override {
        return op == code::Op::fraction      ? "frac"
               : op == code::Op::inverseRoot ? "rsqrt"
               : op == code::Op::mix         ? "lerp"
                                             : Dialect::function(op);
    }
    std::string sample(const Arguments& in) const override {
        return in[0] + ".SampleLevel(" + in[0] + "_sampler, " + in[1] + ", 0.0)";
    }
    std::string fetch(const Arguments& in) const override {
        return in[0] + ".Load(int3(" + in[1] + ", " + in[2] + ", 0))";
    }
    std::string modulo(const Arguments& in) const override { return "fmod(" + in[0] + ", " + in[1] + ")"; }
    std::string make(const code::Type& made, const Arguments& in) const override {
        // A constructor wants every component; a cast repeats one.
        return made.isVector() && in.size() == 1 ? "((" + type(made) + ")(" + in[0] + "))"
                                                 : Dialect::make(made, in);
    }
    std::string parameter(const code::Parameter& parameter) const override {
        return Dialect::parameter(parameter) + (parameter.type == code::Type(code::Base::texture)
                                                    ? ", SamplerState " + parameter.name + "_sampler"
                                                    : "");
    }
    std::string textureArgument(const std::string& name) const override {
        return name + ", " + name + "_sampler";
    }
    std::string constant(const code::Type& of, const std::string& name,
                         const std::string& value) const override {
        return "static " + Dialect::constant(of, name, value); // else it is a uniform
    }
    std::string constantList(const std::string& name, const Arguments& values) const override {
        return "static const float " + name + "[" + std::to_string(values.size()) + "] = {" +
               wrapped(values) + "};";
    }
};

} // namespace

const Dialect& hlsl() {
    static const Hlsl kHlsl;
    return kHlsl;
}

} // namespace ripple::emit
