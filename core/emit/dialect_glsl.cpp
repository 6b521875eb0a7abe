#include "emit/dialect.h"

namespace ripple::emit {

namespace {

class Glsl : public Dialect {
public:
    const char* id() const override { return "glsl"; }
    const char* about() const override { return "GLSL 3.30 and later, or ES 3.00"; }

protected:
    TypeNames typeNames() const override {
        return {"bool", "int",  "uint", "float",          "vec2",
                "vec3", "vec4", "mat3", "highp sampler2D"}; // ES 3.00 takes lowp unless told
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
