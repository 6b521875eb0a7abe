#include "code/value.h"

#include <algorithm>
#include <cstring>

namespace ripple::code {

namespace {

ExpressionPtr made(Expression expression) {
    return std::make_shared<const Expression>(std::move(expression));
}

std::vector<ExpressionPtr> expressions(std::span<const Value> values) {
    std::vector<ExpressionPtr> all;
    for (const Value& value : values) {
        all.push_back(value.expression());
    }
    return all;
}

Value of(Op op, Type type, std::span<const Value> in) {
    return Value(made({.op = op, .type = std::move(type), .in = expressions(in)}));
}

Value infix(Op op, const Value& a, const Value& b) {
    const Value in[] = {a, b};
    return of(op, b.type().isVector() ? b.type() : a.type(), in);
}

Value comparison(Op op, const Value& a, const Value& b) {
    const Value in[] = {a, b};
    return of(op, Base::boolean, in);
}

/// Of a function whose result is of its first operand's type.
Value alike(Op op, std::initializer_list<Value> in) {
    return of(op, in.begin()->type(), {in.begin(), in.size()});
}

} // namespace

void Module::add(Item item) {
    items.push_back(std::move(item));
}

bool Module::has(const std::string& function) const {
    return std::any_of(items.begin(), items.end(), [&](const Item& item) {
        const auto* own = std::get_if<Function>(&item);
        return own && own->name == function;
    });
}

Value::Value(float number) : expression_(made({.op = Op::number, .number = number})) {}
Value::Value(int whole) : expression_(made({.op = Op::whole, .type = Base::whole, .count = whole})) {}

Value Value::components(const char* which) const {
    constexpr Base kOfCount[] = {Base::scalar, Base::scalar, Base::vec2, Base::vec3, Base::vec4};
    return Value(
        made({.op = Op::member, .type = kOfCount[std::strlen(which)], .in = {expression_}, .text = which}));
}

Value Value::field(const std::string& name, Type type) const {
    return Value(made({.op = Op::member, .type = std::move(type), .in = {expression_}, .text = name}));
}

Value Value::operator[](const Value& index) const {
    return operation(Op::element, Base::scalar, {*this, index});
}

Value named(const std::string& name, Type type) {
    return Value(made({.op = Op::name, .type = std::move(type), .text = name}));
}

Value natural(std::uint32_t value) {
    return Value(made({.op = Op::natural, .type = Base::natural, .count = value}));
}

Value truth(bool value) {
    return Value(made({.op = Op::truth, .type = Base::boolean, .count = value ? 1 : 0}));
}

Value loose(float number) {
    return Value(made({.op = Op::loose, .number = number}));
}

Value vec3(const glm::vec3& value) {
    return make(Base::vec3, {value.x, value.y, value.z});
}

Value make(Type type, std::vector<Value> parts) {
    return of(Op::make, std::move(type), parts);
}

Value call(const std::string& function, Type result, const std::vector<Value>& arguments) {
    return Value(
        made({.op = Op::call, .type = std::move(result), .in = expressions(arguments), .text = function}));
}

Value operation(Op op, Type type, std::initializer_list<Value> in) {
    return of(op, std::move(type), {in.begin(), in.size()});
}

Value operator+(const Value& a, const Value& b) {
    return infix(Op::add, a, b);
}
Value operator-(const Value& a, const Value& b) {
    return infix(Op::subtract, a, b);
}
Value operator*(const Value& a, const Value& b) {
    return infix(Op::multiply, a, b);
}
Value operator/(const Value& a, const Value& b) {
    return infix(Op::divide, a, b);
}
Value operator%(const Value& a, const Value& b) {
    return infix(Op::remainder, a, b);
}
Value operator>>(const Value& a, int bits) {
    return infix(Op::shiftRight, a, natural(static_cast<std::uint32_t>(bits)));
}
Value operator&(const Value& a, const Value& b) {
    return infix(Op::bitAnd, a, b);
}
Value operator^(const Value& a, const Value& b) {
    return infix(Op::bitXor, a, b);
}
Value operator<(const Value& a, const Value& b) {
    return comparison(Op::less, a, b);
}
Value operator<=(const Value& a, const Value& b) {
    return comparison(Op::atMost, a, b);
}
Value operator>(const Value& a, const Value& b) {
    return comparison(Op::more, a, b);
}
Value operator>=(const Value& a, const Value& b) {
    return comparison(Op::atLeast, a, b);
}
Value operator==(const Value& a, const Value& b) {
    return comparison(Op::equal, a, b);
}
Value operator&&(const Value& a, const Value& b) {
    return comparison(Op::both, a, b);
}
Value operator-(const Value& a) {
    return alike(Op::negate, {a});
}

Value choose(const Value& condition, const Value& yes, const Value& no) {
    return operation(Op::choose, yes.type(), {condition, yes, no});
}
Value absolute(const Value& a) {
    return alike(Op::absolute, {a});
}
Value clamp(const Value& a, const Value& low, const Value& high) {
    return alike(Op::clamp, {a, low, high});
}
Value cross(const Value& a, const Value& b) {
    return alike(Op::cross, {a, b});
}
Value dot(const Value& a, const Value& b) {
    return operation(Op::dot, Base::scalar, {a, b});
}
Value floor(const Value& a) {
    return alike(Op::floor, {a});
}
Value fraction(const Value& a) {
    return alike(Op::fraction, {a});
}
Value inverseRoot(const Value& a) {
    return alike(Op::inverseRoot, {a});
}
Value least(const Value& a, const Value& b) {
    return alike(Op::least, {a, b});
}
Value most(const Value& a, const Value& b) {
    return alike(Op::most, {a, b});
}
Value mix(const Value& a, const Value& b, const Value& along) {
    return alike(Op::mix, {a, b, along});
}
Value modulo(const Value& a, const Value& b) {
    return alike(Op::modulo, {a, b});
}
Value normalize(const Value& a) {
    return alike(Op::normalize, {a});
}
Value sine(const Value& a) {
    return alike(Op::sine, {a});
}
Value step(const Value& edge, const Value& a) {
    return alike(Op::step, {edge, a});
}
Value sample(const Value& texture, const Value& uv) {
    return operation(Op::sample, Base::vec4, {texture, uv});
}
Value column(const Value& matrix, int which) {
    return Value(made({.op = Op::column, .type = Base::vec3, .in = {matrix.expression()}, .count = which}));
}
Value fetch(const Value& texture, const Value& column, const Value& row) {
    return operation(Op::fetch, Base::vec4, {texture, column, row});
}

void Body::comment(std::string text) {
    statements_.push_back({.kind = Statement::Kind::comment, .text = std::move(text)});
}

Value Body::fixed(const std::string& name, const Value& value) {
    statements_.push_back(
        {.kind = Statement::Kind::fixed, .text = name, .type = value.type(), .value = value.expression()});
    return named(name, value.type());
}

Value Body::variable(const std::string& name, const Value& value) {
    statements_.push_back(
        {.kind = Statement::Kind::variable, .text = name, .type = value.type(), .value = value.expression()});
    return named(name, value.type());
}

Value Body::variable(const std::string& name, Type type) {
    statements_.push_back({.kind = Statement::Kind::variable, .text = name, .type = type});
    return named(name, std::move(type));
}

void Body::assign(const Value& target, const Value& value) {
    statements_.push_back(
        {.kind = Statement::Kind::assign, .target = target.expression(), .value = value.expression()});
}

void Body::increase(const Value& target, const Value& by) {
    statements_.push_back(
        {.kind = Statement::Kind::increase, .target = target.expression(), .value = by.expression()});
}

void Body::giveBack(const Value& value, std::string remark) {
    statements_.push_back(
        {.kind = Statement::Kind::giveBack, .text = std::move(remark), .value = value.expression()});
}

void Body::when(const Value& condition, const Inner& body, const Inner& otherwise) {
    Body yes;
    Body no;
    body(yes);
    if (otherwise) {
        otherwise(no);
    }
    statements_.push_back({.kind = Statement::Kind::branch,
                           .value = condition.expression(),
                           .body = yes.take(),
                           .otherwise = no.take()});
}

void Body::repeat(const Value& condition, const Inner& body) {
    Body inner;
    body(inner);
    statements_.push_back(
        {.kind = Statement::Kind::repeat, .value = condition.expression(), .body = inner.take()});
}

void Body::count(const std::string& name, int from, const std::function<Value(const Value&)>& condition,
                 int step, const std::function<void(Body&, const Value&)>& body) {
    const Value number = named(name, Base::whole);
    Body inner;
    body(inner, number);
    statements_.push_back({.kind = Statement::Kind::count,
                           .text = name,
                           .type = Base::whole,
                           .target = Value(from).expression(),
                           .value = condition(number).expression(),
                           .step = step,
                           .body = inner.take()});
}

std::vector<Value> valuesOf(std::span<const Parameter> parameters) {
    std::vector<Value> values;
    for (const Parameter& parameter : parameters) {
        values.push_back(named(parameter.name, parameter.type));
    }
    return values;
}

} // namespace ripple::code
