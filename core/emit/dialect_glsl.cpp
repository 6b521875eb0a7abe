#include "emit/dialect.h"

namespace ripple::emit {

namespace {

class Glsl : public Dialect {
public:
    const char* id() const override { return "glsl"; }
    const char* about() const override { return "GLSL 3.30 and later, or ES 3.00"; }

    std::string type(const code::Type& type) const override {
        switch (type.base) {
        case code::Base::boolean:
            return "bool";
        case code::Base::whole:
            return "int";
        case code::Base::natural:
            return "uint";
        case code::Base::scalar:
            return "float";
        case code::Base::vec2:
            return "vec2";
        case code::Base::vec3:
            return "vec3";
        case code::Base::vec4:
            return "vec4";
        case code::Base::mat3:
            return "mat3";
        case code::Base::texture:
            return "highp sampler2D"; // ES 3.00 takes lowp unless told
        case code::Base::record:
            break;
        }
        return type.record;
    }

protected:
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
