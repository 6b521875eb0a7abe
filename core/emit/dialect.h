#pragma once

#include "code/tree.h"
#include "emit/vertex_stage.h"

#include <span>
#include <string>
#include <vector>

namespace ripple::emit {

struct Printed {
    std::string text;
    /// Of the numbers that are not written into the text: the values of the array code::LooseNumbers, in the
    /// order in which the text reads them.
    std::vector<float> numbers;
};

/// A shader language: how the parts of a tree are spelled. What is common to all languages that look like C,
/// and where parentheses are needed, is here; a language overrides what it spells otherwise.
class Dialect {
public:
    virtual ~Dialect() = default;

    virtual const char* id() const = 0; ///< "glsl", also the file name's ending
    virtual const char*
    about() const = 0; ///< a sentence's part for the head of a file: "GLSL 3.30 and later"
    std::string type(const code::Type& type) const;

    Printed print(const code::Module& module) const;
    /// A whole vertex stage, which compiles as it stands: object space to clip space, with the normal, the
    /// base texture's UV and the velocity for the next stage.
    virtual std::string vertexStage(const VertexStage& stage) const = 0;
    /// What a text that uses 16-bit floats begins with.
    virtual const char* halfDirective() const { return ""; }
    /// A text that may be included twice, where the language has a way to say so; and with the precision of
    /// numbers stated, where it asks for that. `id`: its names begin with it.
    virtual std::string asFile(const std::string&, const std::string& text) const { return text; }
    /// One expression, without parentheses around all of it.
    std::string expression(const code::ExpressionPtr& expression) const;

protected:
    /// Between a guard against being included twice.
    static std::string guarded(const std::string& macro, const std::string& text) {
        return "#ifndef " + macro + "\n#define " + macro + "\n" + text + "#endif // " + macro + "\n";
    }
    /// The types' names; one of a record is its own.
    struct TypeNames {
        const char* boolean;
        const char* whole;
        const char* natural;
        const char* scalar;
        const char* vec2;
        const char* vec3;
        const char* vec4;
        const char* mat3;
        const char* texture;
        const char* half = "";
        const char* half3 = "";
        const char* record = ""; ///< before its own name
    };
    virtual TypeNames typeNames() const = 0;
    using Arguments = std::vector<std::string>;
    /// "a, b, c"
    static std::string listed(const Arguments& parts);
    /// Of the calls in a vertex stage: textures with their samplers, and the seconds last.
    std::string argumentsOf(const VertexStage& stage) const;
    /// The same over several lines, for long lists.
    static std::string wrapped(const Arguments& values);

    /// Of an operation that is a function in the language.
    virtual std::string function(code::Op op) const;
    virtual std::string sample(const Arguments& in) const = 0;
    virtual std::string fetch(const Arguments& in) const = 0;
    virtual std::string make(const code::Type& type, const Arguments& in) const;
    virtual std::string modulo(const Arguments& in) const;
    virtual std::string choose(const Arguments& in) const;
    virtual std::string column(const std::string& matrix, std::int64_t which) const;
    virtual std::string parameter(const code::Parameter& parameter) const;
    /// A texture that is handed on: with its sampler, where the language keeps them apart.
    virtual std::string textureArgument(const std::string& name) const { return name; }
    /// A number may stand for a vector of it among a function's operands: max(v, 0.0).
    virtual bool broadcasts() const { return true; }
    virtual std::string record(const code::Record& record) const;
    virtual std::string constant(const code::Type& type, const std::string& name,
                                 const std::string& value) const;
    virtual std::string constantList(const std::string& name, const Arguments& values) const;
    virtual std::string looseNumbers(const std::string& name, std::size_t count) const;
    /// Everything before a function's "{".
    virtual std::string signature(const code::Function& function, const std::string& parameters) const;
    /// A local, without the ";". `value` may be empty.
    virtual std::string local(const code::Type& type, const std::string& name, const std::string& value,
                              bool changes) const;

private:
    class Writer;
};

/// GLSL 3.30 and later, or ES 3.00.
const Dialect& glsl();
/// HLSL, shader model 5 and later.
const Dialect& hlsl();
/// WGSL.
const Dialect& wgsl();

/// All, in the order in which they are offered.
const std::vector<const Dialect*>& dialects();
/// By its id; null if there is none.
const Dialect* dialectByName(const std::string& id);

} // namespace ripple::emit
