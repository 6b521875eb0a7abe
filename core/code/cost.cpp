#include "code/cost.h"

#include <map>
#include <set>

namespace ripple::code {

namespace {

class Counter {
public:
    explicit Counter(const Module& module) : module_(module) {}

    Cost of(const std::string& name) {
        const auto known = known_.find(name);
        if (known != known_.end()) {
            return known->second;
        }
        known_[name] = {}; // shader languages have no recursion
        for (const Item& item : module_.items) {
            const auto* function = std::get_if<Function>(&item);
            if (function && function->name == name) {
                std::set<const Expression*> outer;
                outer.swap(seen_);
                const Cost made = of(function->body);
                seen_.swap(outer);
                known_[name] = made;
                return made;
            }
        }
        return {};
    }

private:
    static Cost once(bool counts) { return {counts, 0, counts}; }
    Cost of(const std::vector<Statement>& statements) {
        Cost sum;
        for (const Statement& statement : statements) {
            Cost own = of(statement.value);
            own += statement.kind == Statement::Kind::assign || statement.kind == Statement::Kind::increase
                       ? Cost{}
                       : of(statement.target);
            own += once(statement.kind == Statement::Kind::increase);
            own += of(statement.body);
            own += of(statement.otherwise);
            const int times = timesOf(statement);
            sum += {own.arithmetic * times, own.fetches * times, own.listed};
        }
        return sum;
    }
    /// How often a counting loop runs whose end is a number.
    static int timesOf(const Statement& statement) {
        if (statement.kind != Statement::Kind::count || !statement.value) {
            return 1;
        }
        // The last bound of a condition: `i < 4 && s + i < shapes`.
        const Expression* bound = statement.value.get();
        while (bound->op == Op::both) {
            bound = bound->in[0].get();
        }
        const bool written = bound->op == Op::less && bound->in[1]->op == Op::whole;
        const auto end = written ? static_cast<int>(bound->in[1]->count) : 1;
        return std::max(1, (end + statement.step - 1) / std::max(1, statement.step));
    }
    Cost of(const ExpressionPtr& expression) {
        if (!expression || !seen_.insert(expression.get()).second) {
            return {}; // what is written twice is worked out once
        }
        Cost sum;
        for (const ExpressionPtr& each : expression->in) {
            sum += of(each);
        }
        switch (expression->op) {
        case Op::number:
        case Op::loose:
        case Op::whole:
        case Op::natural:
        case Op::truth:
        case Op::name:
            break;
        case Op::call:
            sum += of(expression->text);
            break;
        case Op::member: // of records none is left
            sum += once(expression->in[0]->type.isVector());
            break;
        case Op::make:
            sum += once(!isConstant(*expression));
            break;
        case Op::sample:
        case Op::fetch:
            sum += {0, 1, 0};
            break;
        // clang-format off
        case Op::element: case Op::column: case Op::choose: case Op::multiply: case Op::divide:
        case Op::remainder: case Op::add: case Op::subtract: case Op::shiftRight: case Op::bitAnd:
        case Op::bitXor: case Op::less: case Op::atMost: case Op::more: case Op::atLeast: case Op::equal:
        case Op::both: case Op::negate: case Op::absolute: case Op::clamp: case Op::cosine: case Op::cross:
        case Op::dot: case Op::floor: case Op::fraction: case Op::inverseRoot: case Op::least: case Op::mix:
        case Op::modulo: case Op::most: case Op::normalize: case Op::root: case Op::sine:
        case Op::smoothstep: case Op::step:
            // clang-format on
            sum += once(!isConstant(*expression));
            break;
        }
        return sum;
    }
    static bool isConstant(const Expression& expression) {
        switch (expression.op) {
        case Op::number:
        case Op::whole:
        case Op::natural:
        case Op::truth:
            return true;
        case Op::name:
        case Op::loose:
        case Op::call:
        case Op::sample:
        case Op::fetch:
            return false;
        // clang-format off
        case Op::make: case Op::member: case Op::element: case Op::column: case Op::choose: case Op::multiply:
        case Op::divide: case Op::remainder: case Op::add: case Op::subtract: case Op::shiftRight:
        case Op::bitAnd: case Op::bitXor: case Op::less: case Op::atMost: case Op::more: case Op::atLeast:
        case Op::equal: case Op::both: case Op::negate: case Op::absolute: case Op::clamp: case Op::cosine:
        case Op::cross: case Op::dot: case Op::floor: case Op::fraction: case Op::inverseRoot:
        case Op::least: case Op::mix: case Op::modulo: case Op::most: case Op::normalize: case Op::root:
        case Op::sine: case Op::smoothstep: case Op::step:
            // clang-format on
            break;
        }
        for (const ExpressionPtr& each : expression.in) {
            if (!isConstant(*each)) {
                return false;
            }
        }
        return true;
    }

    const Module& module_;
    std::map<std::string, Cost> known_;
    std::set<const Expression*> seen_;
};

} // namespace

Cost costOf(const Module& module, const std::string& function) {
    return Counter(module).of(function);
}

} // namespace ripple::code
