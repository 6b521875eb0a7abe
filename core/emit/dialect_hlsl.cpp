#include "emit/dialect.h"

namespace ripple::emit {

namespace {

class Hlsl : public Dialect {
public:
    const char* id() const override { return "hlsl"; }
    const char* about() const override { return "HLSL, shader model 5 and later"; }
    std::string vertexStage(const VertexStage& stage) const override {
        std::string text = "// " + stage.about +
                           "\n// Matrices stand before the vectors that they multiply.\n\n" + stage.code +
                           "\n";
        for (std::size_t t = 0; t < stage.textures.size(); ++t) {
            const std::string n = std::to_string(t);
            text += "Texture2D<float4> " + stage.textures[t] + " : register(t" + n + ");\nSamplerState " +
                    stage.textures[t] + "_sampler : register(s" + n + ");\n";
        }
        text += "cbuffer Stage : register(b0) {\n    float4x4 object_to_world;\n    float4x4 world_to_clip;\n"
                "    float " +
                stage.clock + ";\n";
        text += stage.clips ? "    int clip_number;\n" : "";
        text += stage.copies ? "    float copy_id; // 0 to 1, another one for each copy\n" : "";
        text += "};\n\nstruct Input {\n";
        for (std::size_t i = 0; i < stage.attributes.size(); ++i) {
            const VertexStage::Attribute& each = stage.attributes[i];
            text += "    " + type(each.type) + " " + each.name + " : ATTRIBUTE" + std::to_string(i) +
                    "; // " + each.gltf + "\n";
        }
        text += "};\n\nstruct Output {\n    float4 place : SV_Position;\n    float3 world_normal : NORMAL;\n"
                "    float3 world_velocity : VELOCITY; // a second's way\n";
        text += stage.baseUv.empty() ? "" : "    float2 base_uv : TEXCOORD0;\n";
        text += "};\n\nOutput main(Input input) {\n";
        for (const VertexStage::Attribute& each : stage.attributes) {
            text += "    " + type(each.type) + " " + each.name + " = input." + each.name + ";\n";
        }
        text += "    float3x3 turned = (float3x3)object_to_world;\n";
        if (stage.copies) {
            text += "    float3 copy_origin = object_to_world._m03_m13_m23;\n"
                    "    float copy_scale = length(turned._m00_m10_m20);\n"
                    "    float3x3 copy_axes = float3x3(turned._m00_m10_m20, turned._m01_m11_m21, "
                    "turned._m02_m12_m22) / copy_scale;\n";
        }
        const std::string arguments = argumentsOf(stage);
        text += "    " + stage.result + " moved = " + stage.call + "(" + arguments + ");\n";
        text += "    Output output;\n"
                "    output.place = mul(world_to_clip, mul(object_to_world, float4(moved.position, 1.0)));\n"
                "    output.world_normal = normalize(mul(turned, moved.normal)); // of uneven scales: their "
                "inverse\n"
                "    output.world_velocity = mul(turned, " +
                stage.velocity + "(" + arguments + "));\n";
        if (!stage.baseUv.empty()) {
            text +=
                "    output.base_uv = " + stage.baseUv + (stage.shiftsUv ? " + moved.uv_shift" : "") + ";\n";
        }
        return text + "    return output;\n}\n";
    }

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
                "Texture2D<float4>",
                "min16float",
                "min16float3"};
    }
    std::string function(code::Op op) const override {
        return op == code::Op::fraction      ? "frac"
               : op == code::Op::inverseRoot ? "rsqrt"
               : op == code::Op::mix         ? "lerp"
                                             : Dialect::function(op);
    }
    std::string asFile(const std::string& id, const std::string& text) const override {
        return guarded(id + "_HLSL", text);
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
