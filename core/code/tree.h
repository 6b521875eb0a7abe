#pragma once

#include <cstdint>
#include <memory>
#include <string>
#include <utility>
#include <variant>
#include <vector>

// Shader code as a tree: what it computes, without a word of any shader language. It is built through
// code/value.h and printed by a dialect (emit/dialect.h).

namespace ripple::code {

enum class Base { boolean, whole, natural, scalar, half, vec2, vec3, half3, vec4, mat3, texture, record };

/// Of a value: `natural` is an unsigned whole number of 32 bits, `whole` a signed one, `scalar` a float,
/// `half` one of 16 bits, or what the language has of the kind.
struct Type {
    Base base = Base::scalar;
    std::string record = {}; ///< Base::record: its name

    Type(Base plain) : base(plain) {}
    static Type of(std::string record) {
        Type type(Base::record);
        type.record = std::move(record);
        return type;
    }
    bool isVector() const {
        return base == Base::vec2 || base == Base::vec3 || base == Base::half3 || base == Base::vec4;
    }
    bool isHalf() const { return base == Base::half || base == Base::half3; }
    bool operator==(const Type&) const = default;
};

enum class Op {
    number,  ///< `number`, written into the code
    loose,   ///< `number`, in an array that the code reads: see LooseNumbers
    whole,   ///< `count` as a signed whole number
    natural, ///< `count` as an unsigned one
    truth,   ///< `count` is 0 or 1
    name,    ///< a parameter, a local, or a constant of the module
    call,    ///< a function of the module, by name
    make,    ///< a value of `type` from its parts, from one for all parts, or converted
    member,  ///< the field or components `text` of in[0]
    element, ///< in[0][in[1]], of a vector or a constant list
    column,  ///< the column `count` of the matrix in[0]
    sample,  ///< the texel of texture in[0] at texture coordinates in[1]: nearest, no mip maps
    fetch,   ///< the texel of texture in[0] in column in[1] and row in[2], whole numbers
    choose,  ///< in[1] if in[0] is true, else in[2]
    // Infix, with the usual precedence.
    multiply,
    divide,
    remainder, ///< of whole numbers that are not negative
    add,
    subtract,
    shiftRight,
    bitAnd,
    bitXor,
    less,
    atMost,
    more,
    atLeast,
    equal,
    both, ///< logical and
    // Prefix.
    negate,
    // Functions that every shader language has, under one name or another.
    absolute,
    clamp,
    cosine,
    cross,
    dot,
    floor,
    fraction,
    inverseRoot,
    least,
    mix,
    modulo, ///< in[0] - in[1] · floor(in[0] / in[1]), of numbers that are not negative
    most,
    normalize,
    root,
    sine,
    smoothstep,
    step, ///< 1 where in[1] is at least in[0], else 0
};

struct Expression;
using ExpressionPtr = std::shared_ptr<const Expression>;

struct Expression {
    Op op = Op::number;
    Type type = Base::scalar;
    std::vector<ExpressionPtr> in = {};
    float number = 0.0f;
    std::int64_t count = 0;
    std::string text = {};
};

struct Statement {
    enum class Kind {
        comment,  ///< `text`, one line
        fixed,    ///< a local `text` of `type` that keeps its `value`
        variable, ///< a local that may change; without a value if that is null
        assign,   ///< `target` becomes `value`
        increase, ///< `value` is added to `target`
        giveBack, ///< the function's result; `text` is a remark behind it
        branch,   ///< `body` if `value` is true, else `otherwise`
        repeat,   ///< `body` as long as `value` is true
        count,    ///< as repeat, with a whole number `text` that begins at `target` and grows by `step`
    };
    Kind kind = Kind::comment;
    std::string text = {};
    Type type = Base::scalar;
    ExpressionPtr target = {};
    ExpressionPtr value = {};
    int step = 1;
    std::vector<Statement> body = {};
    std::vector<Statement> otherwise = {};
};

/// Of a function or a record.
struct Parameter {
    Type type;
    std::string name;
};

/// A comment; its lines follow each other.
struct Remark {
    std::vector<std::string> lines;
};

/// An empty line.
struct Gap {};

struct Record {
    std::string name;
    std::vector<Parameter> fields;
};

struct Constant {
    std::string name;
    ExpressionPtr value;
};

/// A list of floats that never change.
struct ConstantList {
    std::string name;
    std::vector<float> values;
};

/// Stands where the array of the numbers that are not written into the code is declared.
struct LooseNumbers {
    std::string name;
};

struct Function {
    std::vector<std::string> comment; ///< lines
    Type result = Base::scalar;
    std::string name;
    std::vector<Parameter> parameters;
    std::vector<Statement> body;
};

using Item = std::variant<Remark, Gap, Record, Constant, ConstantList, LooseNumbers, Function>;

/// A text to be included: what comes first may be used by what follows.
struct Module {
    std::string id; ///< every name that the module declares begins with it
    std::vector<Item> items;

    /// "ID_what"
    std::string own(const std::string& what) const { return id + "_" + what; }
    bool has(const std::string& function) const;
    void add(Item item);
};

} // namespace ripple::code
