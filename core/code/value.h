#pragma once

#include "code/tree.h"

#include <functional>
#include <initializer_list>
#include <span>

#include <glm/vec3.hpp>

namespace ripple::code {

/// An expression, to be put together as in C++: the operators and functions below make the tree. Types follow
/// from the operands: of a scalar and a vector, the vector's.
class Value {
public:
    Value(float number);
    Value(double number) : Value(static_cast<float>(number)) {}
    Value(int whole);
    explicit Value(ExpressionPtr expression) : expression_(std::move(expression)) {}

    const Type& type() const { return expression_->type; }
    const ExpressionPtr& expression() const { return expression_; }

    Value x() const { return components("x"); }
    Value y() const { return components("y"); }
    Value z() const { return components("z"); }
    Value w() const { return components("w"); }
    Value xy() const { return components("xy"); }
    Value xyz() const { return components("xyz"); }
    /// One to four of x, y, z and w.
    Value components(const char* which) const;
    Value field(const std::string& name, Type type) const;
    /// Of a vector or of a constant list.
    Value operator[](const Value& index) const;

private:
    ExpressionPtr expression_;
};

Value named(const std::string& name, Type type);
Value natural(std::uint32_t value);
Value truth(bool value);
/// A number in the array of LooseNumbers.
Value loose(float number);
Value vec3(const glm::vec3& value);

/// One part for each component, vectors among them; or one scalar for all; or a value to convert.
Value make(Type type, std::vector<Value> parts);
Value call(const std::string& function, Type result, const std::vector<Value>& arguments);
/// Any operation whose type is known to the caller.
Value operation(Op op, Type type, std::initializer_list<Value> in);

Value operator+(const Value& a, const Value& b);
Value operator-(const Value& a, const Value& b);
Value operator*(const Value& a, const Value& b);
Value operator/(const Value& a, const Value& b);
Value operator%(const Value& a, const Value& b);
Value operator>>(const Value& a, int bits);
Value operator&(const Value& a, const Value& b);
Value operator^(const Value& a, const Value& b);
Value operator<(const Value& a, const Value& b);
Value operator<=(const Value& a, const Value& b);
Value operator>(const Value& a, const Value& b);
Value operator>=(const Value& a, const Value& b);
Value operator==(const Value& a, const Value& b);
Value operator&&(const Value& a, const Value& b);
Value operator-(const Value& a);

Value choose(const Value& condition, const Value& yes, const Value& no);
Value absolute(const Value& a);
Value clamp(const Value& a, const Value& low, const Value& high);
Value cross(const Value& a, const Value& b);
Value dot(const Value& a, const Value& b);
Value floor(const Value& a);
Value fraction(const Value& a);
Value inverseRoot(const Value& a);
Value least(const Value& a, const Value& b);
Value most(const Value& a, const Value& b);
Value mix(const Value& a, const Value& b, const Value& along);
Value modulo(const Value& a, const Value& b);
Value normalize(const Value& a);
Value sine(const Value& a);
Value step(const Value& edge, const Value& a);
Value sample(const Value& texture, const Value& uv);
/// Of a mat3: a vec3. `which` is 0 to 2.
Value column(const Value& matrix, int which);
Value fetch(const Value& texture, const Value& column, const Value& row);

/// The statements of one function, in order.
class Body {
public:
    void comment(std::string text);
    /// A local that keeps its value.
    Value fixed(const std::string& name, const Value& value);
    Value variable(const std::string& name, const Value& value);
    /// Without a value yet.
    Value variable(const std::string& name, Type type);
    void assign(const Value& target, const Value& value);
    void increase(const Value& target, const Value& by);
    /// `remark` stands behind it.
    void giveBack(const Value& value, std::string remark = {});
    using Inner = std::function<void(Body&)>;
    void when(const Value& condition, const Inner& body, const Inner& otherwise = {});
    void repeat(const Value& condition, const Inner& body);
    /// For a whole number from `from` on, growing by `step`, as long as `condition` of it is true.
    void count(const std::string& name, int from, const std::function<Value(const Value&)>& condition,
               int step, const std::function<void(Body&, const Value&)>& body);

    std::vector<Statement> take() { return std::move(statements_); }

private:
    std::vector<Statement> statements_;
};

/// The values that stand for a function's parameters.
std::vector<Value> valuesOf(std::span<const Parameter> parameters);

} // namespace ripple::code
