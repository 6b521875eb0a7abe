#include "emit/dialect.h"

namespace ripple::emit {

namespace {

class Glsl : public Dialect {
public:
    const char* id() const override { return "glsl"; }
    const char* about() const override { return "GLSL 3.30 and later, or ES 3.00"; }
    std::string vertexStage(const VertexStage& stage) const override {
        std::string text = "#version 330 core\n// In ES 3.00 the first line is \"#version 300 es\".\n// " +
                           stage.about + "\n\n" + stage.code + "\n";
        for (std::size_t i = 0; i < stage.attributes.size(); ++i) {
            const VertexStage::Attribute& each = stage.attributes[i];
            text += "layout(location = " + std::to_string(i) + ") in " + type(each.type) + " " + each.name +
                    "; // " + each.gltf + "\n";
        }
        for (const std::string& texture : stage.textures) {
            text += "uniform highp sampler2D " + texture + ";\n";
        }
        text += "uniform mat4 object_to_world;\nuniform mat4 world_to_clip;\nuniform float " + stage.clock +
                ";\n";
        text += stage.clips ? "uniform int clip_number;\n" : "";
        text += stage.copies ? "uniform float copy_id; // 0 to 1, another one for each copy\n" : "";
        text += "\nout vec3 world_normal;\nout vec3 world_velocity; // a second's way\n";
        text += stage.baseUv.empty() ? "" : "out vec2 base_uv;\n";
        text += "\nvoid main() {\n    mat3 turned = mat3(object_to_world);\n";
        if (stage.copies) {
            text += "    vec3 copy_origin = object_to_world[3].xyz;\n"
                    "    float copy_scale = length(turned[0]);\n"
                    "    mat3 copy_axes = mat3(turned[0] / copy_scale, turned[1] / copy_scale, turned[2] / "
                    "copy_scale);\n";
        }
        const std::string arguments = argumentsOf(stage);
        text += "    " + stage.result + " moved = " + stage.call + "(" + arguments + ");\n";
        text += "    gl_Position = world_to_clip * (object_to_world * vec4(moved.position, 1.0));\n"
                "    world_normal = normalize(turned * moved.normal); // of uneven scales: their inverse\n"
                "    world_velocity = turned * " +
                stage.velocity + "(" + arguments + ");\n";
        if (!stage.baseUv.empty()) {
            text += "    base_uv = " + stage.baseUv + (stage.shiftsUv ? " + moved.uv_shift" : "") + ";\n";
        }
        return text + "}\n";
    }

protected:
    TypeNames typeNames() const override {
        return {"bool",          "int",         "uint", "float",           "vec2",
                "vec3",          "vec4",        "mat3", "highp sampler2D", // ES 3.00 takes lowp unless told
                "mediump float", "mediump vec3"};
    }
    std::string make(const code::Type& made, const Arguments& in) const override {
        // A precision belongs to a variable: its values are floats like others.
        if (made.isHalf()) {
            return in.size() == 1 ? in[0] : "vec3(" + listed(in) + ")";
        }
        return Dialect::make(made, in);
    }
    /// Embedded devices take low precision unless they are told (GLSL ES 3.00, 4.5.4).
    std::string asFile(const std::string& id, const std::string& text) const override {
        return guarded(id + "_GLSL", "#ifdef GL_ES\nprecision highp float;\nprecision highp int;\n"
                                     "precision highp sampler2D;\n#endif\n" +
                                         text);
    }
    std::string sample(const Arguments& in) const override {
        return "textureLod(" + in[0] + ", " + in[1] + ", 0.0)";
    }
    std::string fetch(const Arguments& in) const override {
        return "texelFetch(" + in[0] + ", ivec2(" + in[1] + ", " + in[2] + "), 0)";
    }
    std::string modulo(const Arguments& in) const override { return "mod(" + in[0] + ", " + in[1] + ")"; }
};

} // namespace

const Dialect& glsl() {
    static const Glsl kGlsl;
    return kGlsl;
}

} // namespace ripple::emit
