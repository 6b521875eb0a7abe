#include "emit/dialect.h"

namespace ripple::emit {

namespace {

class Wgsl : public Dialect {
public:
    const char* id() const override { return "wgsl"; }
    const char* about() const override { return "WGSL"; }
    const char* halfDirective() const override { return "enable f16;\n\n"; }
    std::string vertexStage(const VertexStage& stage) const override {
        std::string text = "// " + stage.about + "\n\n" + stage.code +
                           "\nstruct Stage {\n    object_to_world: mat4x4<f32>,\n"
                           "    world_to_clip: mat4x4<f32>,\n    " +
                           stage.clock + ": f32,\n";
        text += stage.clips ? "    clip_number: i32,\n" : "";
        text += stage.copies ? "    copy_id: f32, // 0 to 1, another one for each copy\n" : "";
        text += "}\n@group(0) @binding(0) var<uniform> stage: Stage;\n";
        for (std::size_t t = 0; t < stage.textures.size(); ++t) {
            text += "@group(0) @binding(" + std::to_string(2 * t + 1) + ") var " + stage.textures[t] +
                    ": texture_2d<f32>;\n@group(0) @binding(" + std::to_string(2 * t + 2) + ") var " +
                    stage.textures[t] + "_sampler: sampler;\n";
        }
        text += "\nstruct Input {\n";
        for (std::size_t i = 0; i < stage.attributes.size(); ++i) {
            const VertexStage::Attribute& each = stage.attributes[i];
            text += "    @location(" + std::to_string(i) + ") " + each.name + ": " + type(each.type) +
                    ", // " + each.gltf + "\n";
        }
        text += "}\n\nstruct Output {\n    @builtin(position) place: vec4<f32>,\n"
                "    @location(0) world_normal: vec3<f32>,\n"
                "    @location(1) world_velocity: vec3<f32>, // a second's way\n";
        text += stage.baseUv.empty() ? "" : "    @location(2) base_uv: vec2<f32>,\n";
        text += "}\n\n@vertex\nfn main(input: Input) -> Output {\n";
        for (const VertexStage::Attribute& each : stage.attributes) {
            text += "    let " + each.name + " = input." + each.name + ";\n";
        }
        text += "    let " + stage.clock + " = stage." + stage.clock +
                ";\n    let turned = mat3x3<f32>(stage.object_to_world[0].xyz, "
                "stage.object_to_world[1].xyz, stage.object_to_world[2].xyz);\n";
        text += stage.clips ? "    let clip_number = stage.clip_number;\n" : "";
        if (stage.copies) {
            text +=
                "    let copy_id = stage.copy_id;\n    let copy_origin = stage.object_to_world[3].xyz;\n"
                "    let copy_scale = length(turned[0]);\n"
                "    let copy_axes = mat3x3<f32>(turned[0] / copy_scale, turned[1] / copy_scale, turned[2] "
                "/ copy_scale);\n";
        }
        const std::string arguments = argumentsOf(stage);
        text += "    let moved = " + stage.call + "(" + arguments + ");\n";
        text +=
            "    var output: Output;\n"
            "    output.place = stage.world_to_clip * (stage.object_to_world * vec4<f32>(moved.position, "
            "1.0));\n"
            "    output.world_normal = normalize(turned * moved.normal); // of uneven scales: their inverse\n"
            "    output.world_velocity = turned * " +
            stage.velocity + "(" + arguments + ");\n";
        if (!stage.baseUv.empty()) {
            text +=
                "    output.base_uv = " + stage.baseUv + (stage.shiftsUv ? " + moved.uv_shift" : "") + ";\n";
        }
        return text + "    return output;\n}\n";
    }

protected:
    TypeNames typeNames() const override {
        return {"bool",      "i32",         "u32",
                "f32",       "vec2<f32>",   "vec3<f32>",
                "vec4<f32>", "mat3x3<f32>", "texture_2d<f32>",
                "f16",       "vec3<f16>"};
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
